/** Turning motors: a lease that is the hardware's own, holds that end for good. All at 3 % throttle. */
import {throttleValue} from '../dshot/command';
import {sleep} from '../link/port';
import type {Heard, RawLink} from './raw-link';
import {Broken, expectDone, expectRefusal, type ConformanceRule, type Trial} from './rule';

const needs = ['spin', 'esc'] as const;
const leaseMs = 200;
/** Turns a motor gently: 3 %. */
const gentle = throttleValue(0.03);
/** Time for a report to tell what was commanded, ms. */
const reportMs = 80;
/** Time in which a report comes even at rest, ms. */
const restReportMs = 300;

/** A hold of this check, above every number that the adapter has seen. */
class Hold {
  private constructor(
    readonly link: RawLink,
    readonly number: number,
  ) {}

  static async next({link}: Trial): Promise<Hold> {
    const {lastHold} = expectDone(await link.ask('hello', null), 'hello') as {lastHold: number};
    return new Hold(link, lastHold + 1);
  }

  /** @param ageMs how long ago it claims to have been sent. */
  renew(values: readonly number[], ageMs = 0): Promise<Heard> {
    const commands = values.map((value, output) => ({output, value}));
    const sentMs = this.link.clock.now() + 10_000 - ageMs;
    return this.link.ask('spin', {hold: this.number, sentMs, leaseMs, commands});
  }

  async begin(): Promise<void> {
    expectDone(await this.renew([0]), 'the first renewal of a hold, which turns nothing');
  }

  async turn(): Promise<void> {
    expectDone(await this.renew([gentle]), 'a renewal that turns');
  }

  async stop(): Promise<void> {
    expectDone(await this.link.ask('spin.stop', {hold: this.number}), 'spin.stop');
  }

  /** Throttle of the first motor as the newest report tells it, after a moment; undefined when none came. */
  async throttle(): Promise<number | undefined> {
    return (await this.reports(reportMs)).at(-1);
  }

  /** The same of the very next report, at rest or turning. */
  async nextThrottle(): Promise<number | undefined> {
    return (await this.reports(restReportMs))[0];
  }

  private async reports(forMs: number): Promise<(number | undefined)[]> {
    const from = this.link.reports.length;
    await sleep(this.link.clock, forMs);
    return this.link.reports.slice(from).map(({report}) => report.motors[0]?.throttle);
  }
}

/** A hold that turns the first motor, with reports on. */
async function turning(trial: Trial): Promise<Hold> {
  const {link} = trial;
  await link.ask('esc.leave', {output: 0});
  expectDone(await link.ask('reports', {on: true}), 'reports');
  const hold = await Hold.next(trial);
  await hold.begin();
  await hold.turn();
  return hold;
}

export const spin: readonly ConformanceRule[] = [
  {
    id: 'spin-values',
    text: 'DShot values 1 to 47, which are commands to the ESC, are refused with bad-argument.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial);
      for (const value of [1, 20, 47, 2048])
        expectRefusal(await hold.renew([value]), `spin with value ${value}`, 'bad-argument');
    },
  },
  {
    id: 'spin-begin',
    text: 'The first renewal of a hold turns no motor: one that would is refused with not-begun.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial);
      const heard = await hold.renew([gentle]);
      await hold.stop();
      expectRefusal(heard, 'a first renewal that turns', 'not-begun');
    },
  },
  {
    id: 'spin-lease',
    text: 'Motors stop within one lease of the last renewal, without any further message.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await turning(trial);
      if (!(await hold.throttle())) throw new Broken('Reports do not tell that the motor is commanded to turn.');
      await sleep(trial.link.clock, leaseMs);
      const left = await hold.nextThrottle();
      await hold.stop();
      if (left === undefined) throw new Broken('No report came after the lease ran out.');
      if (left > 0) throw new Broken('The motor was still commanded to turn after its lease.');
    },
  },
  {
    id: 'spin-stop',
    text: 'After spin.stop is answered, no message of that hold or an earlier one turns a motor.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await turning(trial);
      await hold.stop();
      const heard = await hold.renew([gentle]);
      if (await hold.throttle()) throw new Broken('A renewal that came after the stop turned the motor.');
      expectRefusal(heard, 'a renewal after the stop', 'hold-ended');
    },
  },
  {
    id: 'spin-stop-ahead',
    text: 'A stop that comes before its hold ends it before it begins.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial);
      await hold.stop();
      expectRefusal(await hold.renew([0]), 'a hold that was stopped before', 'hold-ended');
    },
  },
  {
    id: 'spin-late',
    text: 'A renewal that comes more than 150 ms later than the quickest of its hold is refused with late.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial);
      await hold.begin();
      const heard = await hold.renew([gentle], 400);
      await hold.stop();
      expectRefusal(heard, 'a renewal of 400 ms ago', 'late');
    },
  },
  {
    id: 'spin-replaces',
    text: 'A renewal replaces the one before: outputs it does not name stop.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await turning(trial);
      expectDone(await hold.renew([]), 'a renewal that names no output');
      const left = await hold.throttle();
      await hold.stop();
      if (left) throw new Broken('A motor that the renewal does not name goes on.');
    },
  },
  {
    id: 'spin-last-hold',
    text: 'lastHold in hello is not lower than any number it has seen since its start.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial);
      await hold.begin();
      await hold.stop();
      const next = await Hold.next(trial);
      if (next.number <= hold.number) throw new Broken(`After hold ${hold.number}, lastHold is ${next.number - 1}.`);
    },
  },
  {
    id: 'spin-or-flash',
    text: 'An ESC whose motor is commanded to turn does not enter its bootloader: turning.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await turning(trial);
      const heard = await trial.link.ask('esc.enter', {output: 0});
      await hold.stop();
      expectRefusal(heard, 'esc.enter while the motor turns', 'turning');
    },
  },
];

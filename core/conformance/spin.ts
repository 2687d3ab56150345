/** Turning motors: a lease that is the hardware's own, holds that end for good. All at 3 % throttle. */
import {highestHold} from '../link/operations';
import {sleep} from '../link/port';
import {Broken, expectDone, expectRefusal, type ConformanceRule, type Trial} from './adapter-rule';
import type {Heard} from './raw-link';
import {gentle, Hold, leaseMs, mostTries, turning, type Turning} from './turning';

const needs = ['spin', 'esc', 'reports'] as const;
/** A hold whose lease has been out for this long has ended, ms; and a moment more, so that clocks may differ. */
const endedMs = 300 + 150;

/** No message of an ended hold turns a motor. */
async function staysEnded(hold: Hold, outputs: number, when: string): Promise<void> {
  for (const value of [0, gentle])
    expectRefusal(await hold.renew(Array<number>(outputs).fill(value)), `a renewal of a hold ${when}`, 'hold-ended');
}

/** What `esc.enter` is answered while the motor of its output turns; tried again where this machine stalled beyond the lease. */
async function enterWhileTurning(
  trial: Trial,
  output: number,
  triesLeft = mostTries - 1,
): Promise<{readonly refused: Heard; readonly witness: Turning['witness']}> {
  const {hold, witness} = await turning(trial, [output]);
  const refused = await trial.link.ask('esc.enter', {output});
  const wasHeld = hold.isHeld;
  await hold.stop();
  return wasHeld || triesLeft === 0 ? {refused, witness} : enterWhileTurning(trial, output, triesLeft - 1);
}

export const spin: readonly ConformanceRule[] = [
  {
    id: 'spin-values',
    text: 'DShot values 1 to 47, which are commands to the ESC, are refused with bad-argument.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial.link);
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
      const hold = await Hold.next(trial.link);
      const heard = await hold.renew([gentle]);
      await hold.stop();
      expectRefusal(heard, 'a first renewal that turns', 'not-begun');
    },
  },
  {
    id: 'spin-outputs',
    text: 'A command turns the motor of the output that it names, and no other: in reports and before esc.enter alike.',
    needs,
    turns: true,
    async try(trial) {
      const {link, hello} = trial;
      for (let output = 0; output < hello.outputs; output++) {
        const {refused, witness} = await enterWhileTurning(trial, output);
        expectRefusal(refused, `esc.enter of output ${output} while its motor turns`, 'turning');
        await witness.stoppedBy(link.clock.now(), 'after spin.stop was answered');
      }
    },
  },
  {
    id: 'spin-lease',
    text: 'Every motor stops within one lease of the last renewal, without any further message.',
    needs,
    turns: true,
    async try(trial) {
      const {hold, witness, renewedBy} = await turning(trial);
      try {
        await witness.stoppedBy(renewedBy + leaseMs, 'after its lease');
      } finally {
        await hold.stop();
      }
    },
  },
  {
    id: 'spin-ended',
    text: 'A hold whose lease has been out for more than 300 ms, or that a higher number has overtaken, stays ended.',
    needs,
    turns: true,
    async try(trial) {
      const {link, hello} = trial;
      const {hold, renewedBy} = await turning(trial);
      await sleep(link.clock, renewedBy + leaseMs + endedMs - link.clock.now());
      await staysEnded(hold, hello.outputs, 'whose lease ran out');
      const next = await Hold.next(link);
      await next.begin();
      const after = await Hold.next(link);
      await after.begin();
      await staysEnded(next, hello.outputs, 'that another has overtaken');
      await after.stop();
    },
  },
  {
    id: 'spin-cable',
    text: 'When the cable is out, every motor stops within one lease, and its hold has ended when it is in again.',
    needs,
    turns: true,
    async try(trial) {
      const {hold, witness, renewedBy} = await turning(trial);
      const {clock} = trial.link;
      const fresh = await trial.again();
      await sleep(clock, renewedBy + leaseMs + endedMs - clock.now());
      expectDone(await fresh.ask('reports', {on: true}), 'reports');
      await witness.stoppedBy(renewedBy + leaseMs, 'after the cable was out', fresh);
      await staysEnded(hold.over(fresh), trial.hello.outputs, 'of before the cable was out');
    },
  },
  {
    id: 'spin-stop',
    text: 'After spin.stop is answered, every motor has stopped, and no message of that hold or an earlier one turns one.',
    needs,
    turns: true,
    async try(trial) {
      const {link, hello} = trial;
      const {hold, witness} = await turning(trial);
      await hold.stop();
      const stoppedBy = link.clock.now();
      await staysEnded(hold, hello.outputs, 'that was stopped');
      await witness.stoppedBy(stoppedBy, 'after spin.stop was answered');
    },
  },
  {
    id: 'spin-stop-ahead',
    text: 'A stop that comes before its hold ends it before it begins.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial.link);
      await hold.stop();
      expectRefusal(await hold.renew([0]), 'a hold that was stopped before', 'hold-ended');
    },
  },
  {
    id: 'spin-stop-highest',
    text: 'A spin.stop with a number far above all that were seen stops what turns, and locks out no hold that follows.',
    needs,
    turns: true,
    async try(trial) {
      const {link} = trial;
      const {witness} = await turning(trial);
      const heard = await link.ask('spin.stop', {hold: highestHold});
      if (heard.kind !== 'done') expectRefusal(heard, 'spin.stop of the highest number', 'hold-too-high');
      await witness.stoppedBy(link.clock.now(), 'after a spin.stop of the highest number');
      const next = await Hold.next(link);
      if (next.number > highestHold)
        throw new Broken('After it, no number is left for a hold until the adapter restarts.');
      await next.begin();
      await next.stop();
    },
  },
  {
    id: 'spin-late',
    text: 'A renewal that comes more than 150 ms later than the quickest of its hold is refused with late.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial.link);
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
      const {hold, witness} = await turning(trial);
      expectDone(await hold.renew([]), 'a renewal that names no output');
      const at = trial.link.clock.now();
      try {
        await witness.stoppedBy(at, 'although the renewal does not name it');
      } finally {
        await hold.stop();
      }
    },
  },
  {
    id: 'spin-last-hold',
    text: 'lastHold in hello is not lower than any number it has seen since its start.',
    needs,
    turns: true,
    async try(trial) {
      const hold = await Hold.next(trial.link);
      await hold.begin();
      await hold.stop();
      const next = await Hold.next(trial.link);
      if (next.number <= hold.number) throw new Broken(`After hold ${hold.number}, lastHold is ${next.number - 1}.`);
    },
  },
];

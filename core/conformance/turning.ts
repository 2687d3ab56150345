/** Turning motors gently for a rule, and seeing from what an adapter cannot bend alone whether they have stopped. */
import {throttleValue} from '../dshot/command';
import {burstRowBytes} from '../link/burst';
import {burstSchema, maxBurstBytes, maxBurstRows, operations, type Burst} from '../link/operations';
import type {Heard, RawLink} from './raw-link';
import {Broken, expectDone, type Trial} from './adapter-rule';

export const leaseMs = 200;
/** Turns a motor gently: 3 %. */
export const gentle = throttleValue(0.03);
/** Time for a report to tell what was commanded, and time in which one comes even at rest, ms. */
const [reportMs, restReportMs] = [120, 300];
/** A burst that covers a rule: rows a second, and how many of them at most. */
const [rowsHz, maxRows] = [100, 600];
/** A motor without a propeller has run down after so long, ms. */
const runsDownMs = 3_000;
/** Current that tells turning from rest: at least so much more, A, and this share of it left. */
const [tellingAmps, leftShare] = [0.2, 0.6];

/** A hold of this check, above every number that the adapter has seen. */
export class Hold {
  private constructor(
    readonly link: RawLink,
    readonly number: number,
  ) {}

  static async next(link: RawLink): Promise<Hold> {
    const {lastHold} = expectDone(await link.ask('hello', null), 'hello') as {lastHold: number};
    return new Hold(link, lastHold + 1);
  }

  /** The same hold over another connection. */
  over(link: RawLink): Hold {
    return new Hold(link, this.number);
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

  async turn(values: readonly number[]): Promise<void> {
    const sentAt = this.link.clock.now();
    expectDone(await this.renew(values), 'a renewal that turns');
    this.heldUntil = sentAt + leaseMs;
  }

  /** Until when the adapter holds the motors at least: it counts from when the renewal came, which is later than it was sent. */
  private heldUntil = -Infinity;

  /**
   * Whether the lease is surely not out yet. What was seen later than that, since this machine stalled, shows nothing of the
   * adapter and is tried again.
   */
  get isHeld(): boolean {
    return this.link.clock.now() < this.heldUntil;
  }

  async stop(): Promise<void> {
    expectDone(await this.link.ask('spin.stop', {hold: this.number}), 'spin.stop');
  }
}

/**
 * Everything that tells whether motors are commanded and turn: throttle and speed in reports, the values that the flight
 * controller itself kept in a burst, the current of the pack. A lie has to be told in all of them.
 */
class Witness {
  private constructor(
    private readonly trial: Trial,
    private readonly burst: {readonly sentAt: number; readonly rateHz: number} | undefined,
    private readonly restAmps: number,
  ) {}
  private turningAmps = 0;

  static async begin(trial: Trial, link = trial.link): Promise<Witness> {
    expectDone(await link.ask('reports', {on: true}), 'reports');
    await link.hearFor(restReportMs);
    const restAmps = link.reports.at(-1)?.report.power.amps ?? 0;
    return new Witness(trial, await startBurst(trial, link), restAmps);
  }

  /** Throttle of every motor in the newest report, a moment from now. Throws where none comes. */
  async throttles(link = this.trial.link): Promise<readonly number[]> {
    const from = link.reports.length;
    await link.hearFor(reportMs);
    const report = link.reports.slice(from).at(-1)?.report;
    if (!report) throw new Broken('No report came while a motor was commanded to turn.');
    this.turningAmps = Math.max(this.turningAmps, report.power.amps);
    return report.motors.map((m) => m.throttle);
  }

  /** Throws where anything tells that a motor was commanded, or still turned, later than `atMs` on the client's clock. */
  async stoppedBy(atMs: number, why: string, link = this.trial.link): Promise<void> {
    const wait = atMs + restReportMs + reportMs - link.clock.now();
    await link.hearFor(Math.max(wait, link.reports.length ? 0 : restReportMs));
    const sign =
      reportedAfter(link, atMs + reportMs) ??
      (await this.keptAfter(link, atMs + reportMs)) ??
      (await this.turnsStill(link));
    if (sign) throw new Broken(`${sign} ${why}.`);
  }

  /** What the flight controller kept of its own commands. */
  private async keptAfter(link: RawLink, atMs: number): Promise<string | undefined> {
    const {burst} = this;
    if (!burst) return undefined;
    const {outputs} = this.trial.hello;
    const rowBytes = burstRowBytes(outputs);
    const state = burstSchema.safeParse((await link.ask('burst.state', null)).value);
    const count = Math.min(maxBurstRows, Math.floor(maxBurstBytes / rowBytes));
    const kept = state.success ? state.data.kept : 0;
    const first = Math.max(0, Math.floor(((atMs - burst.sentAt) / 1000) * burst.rateHz));
    for (let from = first; from < kept; from += count) {
      const read = operations['burst.read'].result.safeParse(
        (await link.ask('burst.read', {from, count: Math.min(count, kept - from)})).value,
      );
      if (!read.success) return undefined;
      const view = new DataView(read.data.bytes.buffer, read.data.bytes.byteOffset, read.data.bytes.length);
      for (let at = 0; at + rowBytes <= view.byteLength; at += rowBytes) {
        if (burst.sentAt + view.getUint32(at) / 1000 < atMs) continue;
        for (let output = 0; output < outputs; output++)
          if (view.getUint16(at + 6 + 6 * output + 2) > 0)
            return `The flight controller’s own record has motor ${output + 1} commanded to turn`;
      }
    }
    return undefined;
  }

  /** Speed from replies, and the current of the pack: given the time that a motor takes to run down. */
  private async turnsStill(link: RawLink): Promise<string | undefined> {
    const from = link.clock.now();
    for (;;) {
      const {motors, power} = link.reports.at(-1)!.report;
      const turning = motors.findIndex((m) => (m.erpm ?? 0) > 0);
      const more = power.amps - this.restAmps;
      const drawn = this.turningAmps - this.restAmps;
      const draws = drawn > tellingAmps && more > leftShare * drawn;
      if (turning < 0 && !draws) return undefined;
      if (link.clock.now() - from > runsDownMs)
        return turning >= 0
          ? `Motor ${turning + 1} still turns`
          : `The pack still gives ${power.amps.toFixed(1)} A as while motors turned`;
      await link.hearFor(reportMs);
    }
  }
}

function reportedAfter(link: RawLink, atMs: number): string | undefined {
  const after = link.reports.filter((r) => r.atMs > atMs);
  if (!after.length) return 'No report came';
  for (const {report} of after) {
    const motor = report.motors.findIndex((m) => m.throttle > 0);
    if (motor >= 0) return `Motor ${motor + 1} was still commanded to turn`;
  }
  return undefined;
}

/** A burst that goes on for the whole rule, whatever motors and cable do; undefined where there is none. */
async function startBurst({hello}: Trial, link: RawLink): Promise<{sentAt: number; rateHz: number} | undefined> {
  if (!hello.abilities.includes('burst')) return undefined;
  const start = async (rows: number): Promise<Burst | undefined> => {
    const burst = burstSchema.safeParse((await link.ask('burst.start', {rateHz: rowsHz, rows})).value);
    return burst.success ? burst.data : undefined;
  };
  const first = await start(1);
  if (!first) return undefined;
  const sentAt = link.clock.now();
  const burst = await start(Math.min(first.memoryRows, maxRows));
  return burst && {sentAt, rateHz: burst.rateHz};
}

/** A hold that turns motors, what is to be seen of it, and when its last renewal was answered. */
export interface Turning {
  readonly hold: Hold;
  readonly witness: Witness;
  readonly renewedBy: number;
}

/** So often a rule is tried in all where this machine stalls for longer than a lease. */
export const mostTries = 5;

/** A hold that turns the named motors, all where none are named, and what is to be seen of it. */
export async function turning(
  trial: Trial,
  outputs = Array.from({length: trial.hello.outputs}, (_, output) => output),
  triesLeft = mostTries - 1,
): Promise<Turning> {
  const {link, hello} = trial;
  for (let output = 0; output < hello.outputs; output++) await link.ask('esc.leave', {output});
  const witness = await Witness.begin(trial);
  const hold = await Hold.next(link);
  await hold.begin();
  const turned = Array.from({length: hello.outputs}, (_, output) => (outputs.includes(output) ? gentle : 0));
  await hold.turn(turned);
  const renewedBy = link.clock.now();
  const told = await witness.throttles();
  const wrong = turned.findIndex((value, output) => value > 0 !== (told[output] ?? 0) > 0);
  if (wrong >= 0) {
    const wasHeld = hold.isHeld;
    await hold.stop();
    if (!wasHeld && triesLeft > 0) return turning(trial, outputs, triesLeft - 1);
    const [is, was] = turned[wrong] ? ['is', 'does not show it'] : ['is not', 'shows that it is'];
    throw new Broken(`Motor ${wrong + 1} ${is} commanded to turn, and a report ${was}.`);
  }
  return {hold, witness, renewedBy};
}

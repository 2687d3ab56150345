/**
 * The trial of a fail-safe: motors at idle under a hold that heeds the receiver, the transmitter off, and the time until every
 * motor stands, by its replies. Both times are the adapter's. Each motor turns alone first, so that the replies are its own.
 */
import type {BenchClient} from '../link/client';
import type {Report} from '../link/operations';
import {sleep, type Clock} from '../link/port';
import {ProblemError, type Problem} from '../problem';
import {crossedReply} from '../replies/replies';
import {heldWait, turnEachAlone} from '../spin/replies/each-alone';
import {SpinLease, type CancelSignal} from '../spin/hold/lease';
import {FrameReader} from './frame-reader';
import {motorsSpedUp, type SpedUp} from './sped-up';

interface FailSafeQuestion {
  readonly outputs: number;
  /** Throttle at which motors turn, 0…1. */
  readonly idle: number;
}

/** Where a trial is: what a person has to do in each. */
export type TrialPhase = 'starts' | 'turns' | 'silent' | 'back';

interface FailSafeOptions extends FailSafeQuestion {
  readonly clock: Clock;
  readonly cancel: CancelSignal;
  readonly onPhase?: (phase: TrialPhase) => void;
}

export interface FailSafeTrial {
  /** From the last frame until each motor stood, ms; undefined for one that went on turning. */
  readonly stoodMs: readonly (number | undefined)[];
  /** Between two reports: the time is not known better than this, ms. */
  readonly resolutionMs: number;
  /** How long was waited after the last frame, ms. */
  readonly watchedMs: number;
  /** Reports that were looked at. */
  readonly reports: number;
  /** Motors that the loop sped up by itself before. */
  readonly spedUp: readonly SpedUp[];
}

/** Motors are waited for, and then the hand at the transmitter, ms. */
const [startsWithinMs, offWithinMs] = [4_000, 30_000];
/** A transmitter without a frame for so long is off, ms. */
const offMs = 250;
/** Watched this long after the last frame: a motor that turns then did not obey, ms. */
const watchMs = 3_000;
const lookEveryMs = 30;

/**
 * Rejects when let go, when the receiver is silent from the start, when motors do not turn, when a reply comes from another motor
 * than it should, and when nobody switches off.
 */
export async function tryFailSafe(client: BenchClient, o: FailSafeOptions): Promise<FailSafeTrial> {
  await client.hello();
  const reader = new FrameReader(client);
  await reader.read();
  await sleep(o.clock, 2 * offMs);
  const before = await reader.read();
  if (!before.frames.length) throw new ProblemError(noFrames);
  const reports: Report[] = [];
  const stop = client.onReport((report) => reports.push(report));
  await client.request('reports', {on: true});
  let lost: Problem | undefined;
  const lease = new SpinLease(client, o.clock, ({problem}) => (lost = problem), 'receiver');
  try {
    o.onPhase?.('starts');
    await eachReplyIsItsOwn({reports, lease, o}, () => lost);
    lease.set(Array.from({length: o.outputs}, (_, output) => ({output, throttle: o.idle})));
    await untilTurning(reports, o, () => lost);
    o.onPhase?.('turns');
    return await untilStanding({reader, reports, o, lease, lastFrameMs: before.frames.at(-1)!.atMs}, () => lost);
  } finally {
    stop();
    await lease.stop();
  }
}

interface Starting {
  /** Emptied when each has turned alone. */
  readonly reports: Report[];
  readonly lease: SpinLease;
  readonly o: FailSafeOptions;
}

/** When a motor stands is known by its replies: each turns alone once, and the others' replies must say that they do not. */
async function eachReplyIsItsOwn({reports, lease, o}: Starting, lost: () => Problem | undefined): Promise<void> {
  const ended = () => {
    const why = lost();
    return why && new ProblemError(why);
  };
  const onMotor = (motor: number) => {
    if (motor > 0 && reports.every((r) => r.motors.every((m) => m.erpm === null))) throw new ProblemError(noReplies);
  };
  const wait = heldWait({clock: o.clock, cancel: o.cancel, lost: ended, letGo});
  const alone = await turnEachAlone({reports, lease, wait}, {outputs: o.outputs, throttle: o.idle, onMotor});
  if (alone.every((a) => !a.turned)) throw new ProblemError(notTurning);
  const crossed = crossedReply(alone);
  if (crossed) throw new ProblemError({...crossedReplies, meaning: `${crossed} So its stop would not be seen.`});
  reports.length = 0;
}

async function untilTurning(
  reports: readonly Report[],
  {clock, cancel, outputs}: FailSafeOptions,
  lost: () => Problem | undefined,
): Promise<void> {
  const began = clock.now();
  for (;;) {
    goesOn(cancel, lost());
    const motors = reports.at(-1)?.motors.slice(0, outputs) ?? [];
    if (motors.length === outputs && motors.every((m) => (m.erpm ?? 0) > 0)) return;
    if (clock.now() - began > startsWithinMs)
      throw new ProblemError(motors.every((m) => m.erpm === null) ? noReplies : notTurning);
    await sleep(clock, lookEveryMs);
  }
}

interface Watched {
  readonly reader: FrameReader;
  readonly reports: readonly Report[];
  readonly o: FailSafeOptions;
  readonly lease: SpinLease;
  readonly lastFrameMs: number;
}

async function untilStanding(w: Watched, lost: () => Problem | undefined): Promise<FailSafeTrial> {
  const {reader, reports, o, lease} = w;
  let {lastFrameMs} = w;
  const began = o.clock.now();
  let isSilent = false;
  for (;;) {
    // Once the fail-safe has acted the hold is over: that is what was to be seen.
    const ended = lost();
    if (!(isSilent && ended?.code === 'fail-safe')) goesOn(o.cancel, ended);
    const {frames, nowMs} = await reader.read();
    lastFrameMs = frames.at(-1)?.atMs ?? lastFrameMs;
    const silentMs = nowMs - lastFrameMs;
    if (!isSilent && silentMs > offMs) o.onPhase?.('silent');
    isSilent = silentMs > offMs;
    if (isSilent) {
      const stoodMs = stood(reports, lastFrameMs, o.outputs);
      const allStand = stoodMs.every((ms) => ms !== undefined);
      // Motors that stand may have been stopped by the lease: only while it was kept up was it the controller.
      if (allStand && lease.mayHaveLapsedSince(o.clock.now() - silentMs - lookEveryMs)) throw new ProblemError(lapsed);
      if ((allStand && ended?.code === 'fail-safe') || silentMs > watchMs) {
        if (allStand && ended?.code !== 'fail-safe') throw new ProblemError(notReported);
        return {
          ...{stoodMs, resolutionMs: resolution(reports), watchedMs: silentMs, reports: reports.length},
          spedUp: motorsSpedUp(reports, o.idle, o.outputs),
        };
      }
    } else if (o.clock.now() - began > offWithinMs) throw new ProblemError(stillOn);
    await sleep(o.clock, lookEveryMs);
  }
}

/** When each motor stood for good, ms after the last frame; undefined where the newest report has it turning or silent. */
function stood(reports: readonly Report[], lastFrameMs: number, outputs: number): (number | undefined)[] {
  return Array.from({length: outputs}, (_, m) => {
    const stands = (r: Report) => r.motors[m]?.erpm === 0;
    const turned = reports.findLastIndex((r) => !stands(r));
    const first = reports[turned + 1];
    return first && Math.max(0, first.atMs - lastFrameMs);
  });
}

/** Median time between two reports while motors turn, ms. */
function resolution(reports: readonly Report[]): number {
  const steps = reports.slice(1).map((r, i) => r.atMs - reports[i]!.atMs);
  return [...steps].sort((a, b) => a - b)[steps.length >> 1] ?? 0;
}

function goesOn(cancel: CancelSignal, lost: Problem | undefined): void {
  if (cancel.aborted) throw new ProblemError(cancel.why ?? letGo);
  if (lost) throw new ProblemError(lost);
}

const problem = (code: string, meaning: string, remedy: string): Problem => ({
  code,
  place: 'fail-safe trial',
  meaning,
  remedy,
});
const noFrames = problem(
  'no-frames',
  'No frame comes from the receiver, so nothing would be seen to stop.',
  'Switch the transmitter on, check that the receiver is bound and on the planned port, then try again.',
);
const noReplies = problem(
  'no-replies',
  'No motor replies, so the stopping time cannot be measured.',
  'Carry out the work order that turns replies on, then try again.',
);
const notTurning = problem(
  'not-turning',
  'Not every motor turned at the planned idle.',
  'Find each start on the Spin station and plan the idle above the highest.',
);
const crossedReplies = problem(
  'crossed-replies',
  'A reply comes from another motor than it should.',
  'Look at the wires and the plug of the named motors, prove replies on the Signal station, then try again.',
);
const stillOn = problem(
  'still-on',
  'Frames kept coming: the transmitter was not switched off.',
  'Hold again and switch the transmitter off while the motors turn.',
);
const lapsed = problem(
  'lease-lapsed',
  'The motors stopped, but the commands that keep them turning came late: this page or the cable stalled. Their own safety stop may have stopped them, so this says nothing of the fail-safe.',
  'Close what keeps this computer busy, then hold again.',
);
const notReported = problem(
  'not-reported',
  'The motors stopped, but the flight controller did not report its fail-safe: what stopped them is not known.',
  'Hold again. If it stays so, this adapter cannot prove a fail-safe.',
);
const letGo = problem(
  'let-go',
  'The button was let go before the motors had stopped, so nothing is proven.',
  'Hold until it says done; let only the transmitter go off.',
);

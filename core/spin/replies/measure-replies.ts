/** Counts replies while a person holds: each motor alone, then idle, 30 % and 60 %, the ramps between them included. */
import {rpmOfErpm} from '../../dshot/reply';
import type {BenchClient} from '../../link/client';
import type {Report} from '../../link/operations';
import type {Clock} from '../../link/port';
import {ProblemError, type Problem} from '../../problem';
import {type MotorReplies, type ReplyMeasure} from '../../replies/replies';
import {aloneMostMs, heldWait, turnEachAlone, type Held} from './each-alone';
import {SpinLease, type CancelSignal} from '../hold/lease';
import {median} from '../../numbers/median';

/** What is to be measured: numbers of the craft and its plan. */
export interface ReplyMeasureQuestion {
  readonly outputs: number;
  readonly poles: number;
  readonly kv: number;
  /** Planned idle, 0…1. */
  readonly idle: number;
  /** Outputs whose ESC turns both ways: half the throttle drives it. */
  readonly bothWays: readonly number[];
  /** Share of the back-EMF that each ESC's timing leaves without load: a motor turns the faster for it. */
  readonly timingShares: readonly number[];
}

interface ReplyMeasureOptions extends ReplyMeasureQuestion {
  readonly clock: Clock;
  readonly cancel: CancelSignal;
  /** Share done, 0…1, and the level being measured. */
  readonly onProgress?: (share: number, throttle: number) => void;
}

/** Time at each level, ms. It begins with the command, so the ramp is in it; speeds are those of its second half. */
const levelMs = 2_400;

/**
 * Counts replies from the first command on. Rejects with code "let-go" when cancelled, "idle-zero" when the planned idle
 * turns nothing, or with what ended the hold; the motors stop either way.
 */
export async function measureReplies(client: BenchClient, o: ReplyMeasureOptions): Promise<ReplyMeasure[]> {
  if (o.idle <= 0) throw new ProblemError(idleZero);
  const levels = [o.idle, 0.3, 0.6];
  // Where hold numbers stand: a client that just connected again does not know.
  await client.hello();
  const reports: Report[] = [];
  const wholeMs = levels.length * levelMs + o.outputs * aloneMostMs;
  const off = client.onReport((report) => reports.push(report));
  let lost: ProblemError | undefined;
  const lease = new SpinLease(client, o.clock, (error) => (lost = error));
  const done: Progress = {baseMs: 0, throttle: 0};
  const wait = heldWait({
    ...{clock: o.clock, cancel: o.cancel, lost: () => lost, letGo},
    onWait: (ms) => o.onProgress?.(Math.min(1, (done.baseMs + ms) / wholeMs), done.throttle),
  });
  try {
    await client.request('reports', {on: true});
    // Counting begins at a report that came before the motors were commanded.
    await wait(1_000, () => reports.length > 0);
    const before = reports.at(-1);
    done.throttle = o.idle;
    const onMotor = (motor: number) => (done.baseMs = motor * aloneMostMs);
    const alone = await turnEachAlone({reports, lease, wait}, {outputs: o.outputs, throttle: o.idle, onMotor});
    const [idle, ...rest] = await measureLevels(levels, {reports, lease, wait, before, done}, o);
    return [{...idle!, alone}, ...rest];
  } finally {
    off();
    await lease.stop();
  }
}

/** What is under way: time of what came before it, ms, and its throttle. */
interface Progress {
  baseMs: number;
  throttle: number;
}

interface Measuring extends Held {
  readonly before: Report | undefined;
  readonly done: Progress;
}

/** One level after the other, counted from the command of each to its end. */
async function measureLevels(
  levels: readonly number[],
  {reports, lease, wait, before, done}: Measuring,
  o: ReplyMeasureOptions,
): Promise<ReplyMeasure[]> {
  const measures: ReplyMeasure[] = [];
  let first = before;
  for (const [index, throttle] of levels.entries()) {
    const base = o.outputs * aloneMostMs + index * levelMs;
    lease.set(Array.from({length: o.outputs}, (_, output) => ({output, throttle})));
    Object.assign(done, {baseMs: base, throttle});
    await wait(levelMs / 2);
    const half = reports.length;
    done.baseMs += levelMs / 2;
    await wait(levelMs / 2);
    const last = reports.at(-1);
    const own = reports.slice(half);
    measures.push({
      throttle,
      motors: Array.from({length: o.outputs}, (_, m) => motorReplies({first, last, own, m, throttle}, o)),
    });
    first = last;
  }
  return measures;
}

interface Level {
  readonly first: Report | undefined;
  readonly last: Report | undefined;
  /** Reports of the level's second half. */
  readonly own: readonly Report[];
  readonly m: number;
  readonly throttle: number;
}

function motorReplies({first, last, own, m, throttle}: Level, o: ReplyMeasureQuestion): MotorReplies {
  const [a, b] = [first?.motors[m], last?.motors[m]];
  const erpms = own.map((r) => r.motors[m]?.erpm ?? null);
  const spoken = erpms.filter((e) => e !== null);
  const duty = o.bothWays.includes(m) ? 2 * (throttle < 0.5 ? throttle : throttle - 0.5) : throttle;
  const volts = own.length ? median(own.map((r) => r.power.volts)) : 0;
  return {
    asked: a && b ? b.asked - a.asked : 0,
    lost: a && b ? b.lost - a.lost : 0,
    rpm: spoken.length && spoken.length === erpms.length ? rpmOfErpm(median(spoken), o.poles) : null,
    noLoadRpm: (o.kv * volts * duty) / (o.timingShares[m] ?? 1),
  };
}

const idleZero = {
  code: 'idle-zero',
  place: 'reply measurement',
  meaning: 'The planned idle is 0 %: no motor would turn, and replies of a stopped motor prove nothing.',
  remedy: 'Plan an idle above the highest start on the Spin station.',
};

const letGo: Problem = {
  code: 'let-go',
  place: 'reply measurement',
  meaning: 'The button was let go before all levels were measured, so nothing is proven.',
  remedy: 'Hold until it says done, about 10 s.',
};

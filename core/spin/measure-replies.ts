/** Counts replies while a person holds: each motor alone, then idle, 30 % and 60 %, the ramps between them included. */
import {rpmOfErpm} from '../dshot/reply';
import type {BenchClient} from '../link/client';
import type {Report} from '../link/operations';
import {sleep, type Clock} from '../link/port';
import {ProblemError} from '../problem';
import {middle, type AloneSight, type MotorReplies, type ReplyMeasure} from '../replies/replies';
import {SpinLease, type CancelSignal} from './lease';

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

export interface ReplyMeasureOptions extends ReplyMeasureQuestion {
  readonly clock: Clock;
  readonly cancel: CancelSignal;
  /** Share done, 0…1, and the level being measured. */
  readonly onProgress?: (share: number, throttle: number) => void;
}

/** Time at each level, ms. It begins with the command, so the ramp is in it; speeds are those of its second half. */
const levelMs = 2_400;

/** A motor driven alone is given this long to turn, and is watched at least this long, ms. */
const [aloneMostMs, aloneLeastMs] = [1_500, 300];
/** Reports in a row that say that a motor turns, or that its speed is what it was. */
const sureReports = 3;
/** A motor that coasts from before loses speed; one whose reply is another's does not, relative. */
const coasts = 0.98;

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
  const wait: Measuring['wait'] = async (ms, base, throttle, until = () => false) => {
    const start = o.clock.now();
    while (o.clock.now() - start < ms && !until()) {
      await sleep(o.clock, 25);
      if (lost) throw lost;
      if (o.cancel.aborted) throw o.cancel.why ? new ProblemError(o.cancel.why) : letGo();
      o.onProgress?.(Math.min(1, (base + o.clock.now() - start) / wholeMs), throttle);
    }
  };
  try {
    await client.request('reports', {on: true});
    // Counting begins at a report that came before the motors were commanded.
    await wait(1_000, 0, 0, () => reports.length > 0);
    const before = reports.at(-1);
    const alone = await eachAlone({reports, lease, wait}, o);
    const [idle, ...rest] = await measureLevels(levels, {reports, lease, wait, before}, o);
    return [{...idle!, alone}, ...rest];
  } finally {
    off();
    await lease.stop();
  }
}

interface Measuring {
  /** Every report so far; it grows. */
  readonly reports: readonly Report[];
  readonly lease: SpinLease;
  readonly wait: (ms: number, base: number, throttle: number, until?: () => boolean) => Promise<void>;
}

/** One motor after the other at idle, the others commanded to rest: each reply must come from its own motor. */
async function eachAlone({reports, lease, wait}: Measuring, o: ReplyMeasureOptions): Promise<AloneSight[]> {
  const sights: AloneSight[] = [];
  for (let motor = 0; motor < o.outputs; motor++) {
    const from = reports.length;
    const own = () => reports.slice(from);
    const turns = () =>
      own().length >= sureReports &&
      own()
        .slice(-sureReports)
        .every((r) => speedOf(r, motor) > 0);
    lease.set(Array.from({length: o.outputs}, (_, output) => ({output, throttle: output === motor ? o.idle : 0})));
    const base = motor * aloneMostMs;
    await wait(aloneLeastMs, base, o.idle);
    await wait(aloneMostMs - aloneLeastMs, base + aloneLeastMs, o.idle, turns);
    const others = Array.from({length: o.outputs}, (_, other) => other).filter((other) => other !== motor);
    sights.push({turned: turns(), others: others.filter((other) => isDriven(own(), other))});
  }
  return sights;
}

const speedOf = (report: Report, motor: number): number => report.motors[motor]?.erpm ?? 0;

/** Whether a motor's replies say that it gains speed, or keeps one: what merely coasts falls. */
function isDriven(reports: readonly Report[], motor: number): boolean {
  const [first, last] = [reports[0], reports.at(-1)];
  if (!first || !last || speedOf(last, motor) === 0) return false;
  const slowest = Math.min(...reports.map((r) => speedOf(r, motor)));
  return speedOf(last, motor) > slowest * 1.05 || speedOf(last, motor) >= speedOf(first, motor) * coasts;
}

/** One level after the other, counted from the command of each to its end. */
async function measureLevels(
  levels: readonly number[],
  {reports, lease, wait, before}: Measuring & {readonly before: Report | undefined},
  o: ReplyMeasureOptions,
): Promise<ReplyMeasure[]> {
  const measures: ReplyMeasure[] = [];
  let first = before;
  for (const [index, throttle] of levels.entries()) {
    const base = o.outputs * aloneMostMs + index * levelMs;
    lease.set(Array.from({length: o.outputs}, (_, output) => ({output, throttle})));
    await wait(levelMs / 2, base, throttle);
    const half = reports.length;
    await wait(levelMs / 2, base + levelMs / 2, throttle);
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
  const volts = own.length ? middle(own.map((r) => r.power.volts)) : 0;
  return {
    asked: a && b ? b.asked - a.asked : 0,
    lost: a && b ? b.lost - a.lost : 0,
    rpm: spoken.length && spoken.length === erpms.length ? rpmOfErpm(middle(spoken), o.poles) : null,
    noLoadRpm: (o.kv * volts * duty) / (o.timingShares[m] ?? 1),
  };
}

const idleZero = {
  code: 'idle-zero',
  place: 'reply measurement',
  meaning: 'The planned idle is 0 %: no motor would turn, and replies of a motor that stands still prove nothing.',
  remedy: 'Plan an idle above the highest start on the Spin station.',
};

const letGo = () =>
  new ProblemError({
    code: 'let-go',
    place: 'reply measurement',
    meaning: 'The button was let go before all levels were measured, so there is no proof.',
    remedy: 'Hold until it says done, about 10 s.',
  });

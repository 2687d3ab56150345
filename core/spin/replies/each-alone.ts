/**
 * Each motor driven alone once, the others commanded to rest: every reply must come from its own motor. What is concluded of one
 * motor from its replies rests on this.
 */
import {sleep, type Clock} from '../../link/port';
import type {Report} from '../../link/operations';
import type {Problem} from '../../problem';
import {ProblemError} from '../../problem';
import type {AloneState} from '../../replies/replies';
import type {CancelSignal, SpinLease} from '../hold/lease';

/** A motor driven alone is given this long to turn, and is watched at least this long, ms. */
export const aloneMostMs = 1_500;
const aloneLeastMs = 300;
/** What it takes of a motor that starts well, ms. */
const aloneTypicalMs = 400;
/** Reports in a row that say that a motor turns, or that its speed is what it was. */
const sureReports = 3;
/** A motor that coasts from before loses speed; one whose reply is another's does not, relative. */
const coasts = 0.98;
/** Motors are given this long to come to rest afterwards, and take about this long from idle, ms. */
const [restMostMs, restTypicalMs] = [3_000, 500];

/** Waits so long, ms, or until something is so; rejects when the hold has ended. */
type HeldWait = (ms: number, until?: () => boolean) => Promise<void>;

interface HeldWaitOptions {
  readonly clock: Clock;
  readonly cancel: CancelSignal;
  /** What ended the hold at the hardware. */
  readonly lost: () => ProblemError | undefined;
  /** What to say when it was just let go. */
  readonly letGo: Problem;
  /** After every look; `ms` since this wait began. */
  readonly onWait?: (ms: number) => void;
}

/** Looks again after this, ms. */
const lookMs = 25;

export function heldWait({clock, cancel, lost, letGo, onWait}: HeldWaitOptions): HeldWait {
  return async (ms, until = () => false) => {
    const start = clock.now();
    while (clock.now() - start < ms && !until()) {
      await sleep(clock, lookMs);
      const ended = lost();
      if (ended) throw ended;
      if (cancel.aborted) throw new ProblemError(cancel.why ?? letGo);
      onWait?.(clock.now() - start);
    }
  };
}

/** A hold under way. */
export interface Held {
  /** Every report so far; it grows. */
  readonly reports: readonly Report[];
  readonly lease: SpinLease;
  readonly wait: HeldWait;
}

interface AloneQuestion {
  readonly outputs: number;
  /** Throttle that every motor starts at, 0…1. */
  readonly throttle: number;
  /** Before each motor. */
  readonly onMotor?: (motor: number) => void;
}

/** One for each motor. */
export async function turnEachAlone({reports, lease, wait}: Held, q: AloneQuestion): Promise<AloneState[]> {
  const sights: AloneState[] = [];
  const all = Array.from({length: q.outputs}, (_, output) => output);
  for (const motor of all) {
    q.onMotor?.(motor);
    const from = reports.length;
    const own = () => reports.slice(from);
    const turns = () => {
      const last = own().slice(-sureReports);
      return last.length === sureReports && last.every((r) => speedOf(r, motor) > 0);
    };
    lease.set(all.map((output) => ({output, throttle: output === motor ? q.throttle : 0})));
    await wait(aloneLeastMs);
    await wait(aloneMostMs - aloneLeastMs, turns);
    const others = all.filter((other) => other !== motor);
    sights.push({turned: turns(), others: others.filter((other) => isDriven(own(), other))});
  }
  return sights;
}

/** Lets all motors come to rest under the same hold; resolves at the latest after 3 s. */
export async function rest({reports, lease, wait}: Held, outputs: number): Promise<void> {
  const all = Array.from({length: outputs}, (_, output) => output);
  lease.set(all.map((output) => ({output, throttle: 0})));
  const from = reports.length;
  const isAtRest = () => {
    const last = reports.slice(from).slice(-sureReports);
    return last.length === sureReports && last.every((r) => all.every((output) => speedOf(r, output) === 0));
  };
  await wait(restMostMs, isAtRest);
}

/** About how long it takes, rest included, s. */
export const aloneSeconds = (outputs: number): number => (outputs * aloneTypicalMs + restTypicalMs) / 1000;

const speedOf = (report: Report, motor: number): number => report.motors[motor]?.erpm ?? 0;

/** Whether a motor's replies say that it gains speed, or keeps one: what merely coasts falls. */
function isDriven(reports: readonly Report[], motor: number): boolean {
  const [first, last] = [reports[0], reports.at(-1)];
  if (!first || !last || speedOf(last, motor) === 0) return false;
  const slowest = Math.min(...reports.map((r) => speedOf(r, motor)));
  return speedOf(last, motor) > slowest * 1.05 || speedOf(last, motor) >= speedOf(first, motor) * coasts;
}

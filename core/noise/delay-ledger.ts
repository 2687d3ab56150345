/** What each filter of a gyro chain costs in time at one frequency. */
import {lowPass, notch, phaseDelayS} from './biquad';
import {movingNotchQ} from './moving-notch';
import {notchHz, type NotchBank} from './notch-bank';

export interface FilterChain extends NotchBank {
  readonly movingNotches: number;
  readonly gyroLowPassHz: number;
}

export interface DelayEntry {
  readonly filter: 'motor-speed notches' | 'gyro low-pass' | 'moving notches';
  /** Number of biquads in it. */
  readonly count: number;
  /** Undefined where it cannot be stated: see `why`. */
  readonly delayMs: number | undefined;
  readonly why?: string;
}

export interface LedgerQuestion {
  /** Rotation frequency per motor at some moments of the flight. */
  readonly motorsHz: readonly Float64Array[];
  /** Where each moving notch sits over the flight, Hz; NaN where it does not. */
  readonly movingHz: readonly Float64Array[];
  /** Rate at which the controller runs its filters. */
  readonly filterRateHz: number;
  readonly atHz: number;
}

/**
 * Phase delay at `atHz` of every filter, averaged over the flight's speeds. Around a notch the phase jumps through half a
 * turn: a notch that sits on `atHz`, or below it, turns the phase forward, which is no gain in time. Its delay is not
 * stated.
 */
export function delayLedger(chain: FilterChain, q: LedgerQuestion): DelayEntry[] {
  const {filterRateHz: rate, atHz} = q;
  const perMotor = q.motorsHz.map((hz) =>
    sumOf(chain.harmonics.map((h) => meanDelay(hz, (speed) => notchHz(chain, speed, h, rate), chain.q, {rate, atHz}))),
  );
  const moving = q.movingHz.slice(0, chain.movingNotches);
  const movingS = sumOf(moving.map((hz) => meanDelay(hz, (centre) => centre, movingNotchQ, {rate, atHz})));
  const open = chain.gyroLowPassHz >= rate / 2;
  const lowPassS = open ? 0 : phaseDelayS(lowPass(chain.gyroLowPassHz, Math.SQRT1_2, rate), atHz, rate);
  return [
    entry('motor-speed notches', chain.harmonics.length * q.motorsHz.length, sumOf(perMotor), atHz),
    entry('gyro low-pass', 1, lowPassS, atHz),
    entry('moving notches', moving.length, movingS, atHz),
  ];
}

const entry = (filter: DelayEntry['filter'], count: number, delayS: number | undefined, atHz: number): DelayEntry =>
  delayS === undefined
    ? {filter, count, delayMs: undefined, why: `a notch sits on ${atHz} Hz or below`}
    : {filter, count, delayMs: delayS * 1000};

/** Sum of delays; undefined when one of them cannot be stated. */
const sumOf = (delays: readonly (number | undefined)[]): number | undefined =>
  delays.reduce<number | undefined>((sum, d) => (sum === undefined || d === undefined ? undefined : sum + d), 0);

/** Share of moments at which a notch may sit too low before its delay is not stated any more. */
const mostUnstated = 0.02;

function meanDelay(
  hz: Float64Array,
  centreOf: (hz: number) => number | undefined,
  notchQ: number,
  {rate, atHz}: {readonly rate: number; readonly atHz: number},
): number | undefined {
  let sum = 0;
  let used = 0;
  let low = 0;
  for (const value of hz) {
    if (Number.isNaN(value)) continue;
    used++;
    const centre = centreOf(value);
    if (centre === undefined || centre >= 0.475 * rate) continue;
    if (centre <= atHz * (1 + 1 / notchQ)) low++;
    else sum += phaseDelayS(notch(centre, notchQ, rate), atHz, rate);
  }
  if (!used) return 0;
  return low > mostUnstated * used ? undefined : sum / (used - low);
}

/** All delays together; undefined when one of them cannot be stated. */
export const totalDelayMs = (ledger: readonly DelayEntry[]): number | undefined => sumOf(ledger.map((e) => e.delayMs));

/** What each filter of a chain costs in time, and the whole of it in phase at the craft's crossover. */
import {lowPassesAt, motorSections, movingSections, type FilterChain, type MomentState} from './chain';
import {cascade, phaseDelayS} from './response';
import type {Section} from './section';

export type FilterName = 'motor-speed notches' | 'moving notches' | 'gyro low-pass' | 'D low-pass';

export interface DelayEntry {
  readonly filter: FilterName;
  /** Sections of it that run for one axis. */
  readonly count: number;
  /** Phase delay; undefined where it cannot be stated: see `why`. */
  readonly delayMs: number | undefined;
  readonly why?: string;
}

/** A moment of the flight, with where the moving notches sit. */
export interface LedgerMoment extends MomentState {
  readonly movingHz: readonly number[];
}

/** Share of moments at which a notch may sit too low before its delay is not stated any more. */
const maxUnstated = 0.02;

/**
 * Mean phase delay at `atHz` of every filter over the moments given. Across a notch the phase jumps through half a turn: a
 * notch on `atHz` or below turns it forward, which is no gain in time, so such a delay is not stated. "Below" begins where
 * the notch takes 3 dB at `atHz`.
 */
export function delayLedger(
  chain: FilterChain,
  moments: readonly LedgerMoment[],
  {rateHz, atHz}: {readonly rateHz: number; readonly atHz: number},
): DelayEntry[] {
  const entry = (filter: FilterName, sectionsOf: (moment: LedgerMoment) => readonly Section[]): DelayEntry => {
    let sum = 0;
    let used = 0;
    let low = 0;
    let count = 0;
    for (const moment of moments) {
      const sections = sectionsOf(moment);
      count = Math.max(count, sections.length);
      used++;
      if (sections.some((s) => isNotchNear(s, atHz, rateHz))) low++;
      else sum += phaseDelayS(sections, atHz, rateHz);
    }
    if (!used) return {filter, count, delayMs: 0};
    if (low > maxUnstated * used)
      return {filter, count, delayMs: undefined, why: `a notch sits on ${atHz} Hz or below`};
    return {filter, count, delayMs: (sum / (used - low)) * 1000};
  };
  return [
    entry('motor-speed notches', (m) => motorSections(chain, m, rateHz)),
    entry('moving notches', (m) => movingSections(chain, m.movingHz, rateHz)),
    entry('gyro low-pass', (m) => lowPassesAt(chain.gyroLowPasses, m.throttle, rateHz)),
    entry('D low-pass', (m) => lowPassesAt(chain.dLowPasses, m.throttle, rateHz)),
  ];
}

/** A notch whose zeros lie at or below the frequency, or so near above that it takes 3 dB there. */
function isNotchNear(section: Section, atHz: number, rateHz: number): boolean {
  const {b1, a1, a2} = section;
  // The cookbook's notch, whole or in part, has b1 = a1; cos ω₀ = −a1/(1 + a2).
  if (a2 === 0 || Math.abs(b1 - a1) > 1e-9) return false;
  const centre = (Math.acos(Math.max(-1, Math.min(1, -a1 / (1 + a2)))) / (2 * Math.PI)) * rateHz;
  return centre <= atHz || cascade([section], atHz, rateHz).magnitude < Math.SQRT1_2;
}

/** All delays of the gyro's path together (the D low-pass is not in it); undefined when one of them cannot be stated. */
export function totalDelayMs(ledger: readonly DelayEntry[]): number | undefined {
  const path = ledger.filter((e) => e.filter !== 'D low-pass');
  return path.some((e) => e.delayMs === undefined) ? undefined : path.reduce((sum, e) => sum + e.delayMs!, 0);
}

/** Phase that a delay takes at a frequency, degrees: what it costs in phase margin there. */
export const phaseLagDeg = (delayMs: number, atHz: number): number => 0.36 * delayMs * atHz;

/** Phase delay of the gyro's path over frequencies, ms; NaN where a notch is near or below. */
export function delayCurve(
  chain: FilterChain,
  moment: LedgerMoment,
  {rateHz, hz}: {readonly rateHz: number; readonly hz: readonly number[]},
): number[] {
  const sections = [
    ...motorSections(chain, moment, rateHz),
    ...movingSections(chain, moment.movingHz, rateHz),
    ...lowPassesAt(chain.gyroLowPasses, moment.throttle, rateHz),
  ];
  return hz.map((f) =>
    sections.some((s) => isNotchNear(s, f, rateHz)) ? NaN : phaseDelayS(sections, f, rateHz) * 1000,
  );
}

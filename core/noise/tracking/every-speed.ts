/**
 * What a flight holds at every speed of its motors: their lines move with it, and what stays where it is at all of them is no
 * motor line. Every bin takes the lowest of its levels over groups of equal speed, or of equal throttle where no speeds were
 * logged.
 */
import {axes} from '../../flight/mapping';
import type {FlightLog} from '../../flight/flight-log';
import {meanOf} from '../../spectra/noise-map';
import type {Periodogram} from '../../spectra/periodogram';

export interface EverySpeed {
  /** Of each axis, (deg/s)²/Hz; what the lowest of several levels reads too low is the same in all bins. */
  readonly density: readonly Float64Array[];
  /** Moments in each bin's groups. */
  readonly counts: Float64Array;
  /** Of the lowest and of the highest group: revolutions per second, or % of throttle where `isThrottle`. */
  readonly range: readonly [number, number];
  readonly isThrottle: boolean;
  /** Whether a bin of an axis has about the same level in most groups. */
  isSteady(axis: number, bin: number): boolean;
}

/** Groups, and moments that each needs. */
const groups = 6;
const minMoments = 4;
/**
 * The highest group's speed over the lowest's: lines move by more than the motors of a craft differ. Thrust goes with
 * throttle and with the square of speed (common practice).
 */
const minRatio = 1.4;

/** Undefined where neither is logged, or hardly changes: a motor line that stays where it is looks like the rest. */
export function atEverySpeed(
  log: FlightLog,
  hz: readonly Float32Array[],
  {periodogram, starts}: {readonly periodogram: Periodogram; readonly starts: readonly number[]},
): EverySpeed | undefined {
  const isThrottle = !hz.length;
  const columns = hz.length ? hz : log.throttle ? [log.throttle] : [];
  if (!columns.length) return undefined;
  const {length, bins} = periodogram;
  const moments = starts
    .map((at) => ({at, level: columns.reduce((sum, c) => sum + meanOf(c, at, length), 0) / columns.length}))
    .filter((m) => m.level > 1)
    .sort((a, b) => a.level - b.level);
  const parts = Array.from({length: groups}, (_, g) =>
    moments.slice((g * moments.length) / groups, ((g + 1) * moments.length) / groups),
  );
  const [low, high] = [parts[0]!, parts.at(-1)!].map((p) => p[p.length >> 1]?.level ?? NaN) as [number, number];
  const isWide = high >= (isThrottle ? minRatio ** 2 : minRatio) * low;
  if (!isWide || parts.some((p) => p.length < minMoments)) return undefined;
  const levels = axes.map((axis) =>
    parts.map((part) => {
      const level = new Float64Array(bins);
      for (const {at} of part) periodogram.accumulate(log.gyro[axis], at, level);
      return level.map((v) => v / part.length);
    }),
  );
  return {
    ...{isThrottle, range: [low, high], counts: new Float64Array(bins).fill(moments.length)},
    density: levels.map(([first, ...more]) =>
      more.reduce((lowest, level) => lowest.map((v, k) => Math.min(v, level[k]!)), first!),
    ),
    isSteady: (axis, bin) => isSteady(levels[axis]!, bin),
  };
}

/** What stays has the same level, within this ratio (4 dB), in so many of the groups: a line that passes through has not. */
const alike = 2.5;
const minAlike = 4;
/** Bins to either side that a level is the mean of. */
const around = 2;

function isSteady(levels: readonly Float64Array[], bin: number): boolean {
  const means = levels.map((level) =>
    level.subarray(Math.max(0, bin - around), bin + around + 1).reduce((sum, v) => sum + v, 0),
  );
  const lowest = Math.min(...means);
  return means.filter((v) => v <= alike * lowest).length >= minAlike;
}

/** Starts of one motor, repeated: how they scatter, and what the next one may ask for at most. */

interface StartScatter {
  readonly starts: number;
  /** Mean and standard deviation, µs; the deviation is undefined for a single start. */
  readonly meanUs: number;
  readonly deviationUs: number | undefined;
  /** The next start lies below this nineteen times out of twenty, µs; undefined for fewer than three starts. */
  readonly boundUs: number | undefined;
}

/** Student's t, one-sided 95 %, by degrees of freedom from 1 (any table of statistics; scipy.stats.t.ppf(0.95, n)). */
const studentT = [
  6.314, 2.92, 2.353, 2.132, 2.015, 1.943, 1.895, 1.86, 1.833, 1.812, 1.796, 1.782, 1.771, 1.761, 1.753,
];
const normal = 1.645;
/** Climbs go in steps of this, so no start is known better, µs. */
const stepUs = 1;
const minStarts = 3;

/** Prediction bound: mean + t·s·√(1 + 1/n), s at least what the steps of the climb leave open. Undefined of no starts. */
export function startScatter(startsUs: readonly number[]): StartScatter | undefined {
  const starts = startsUs.length;
  if (!starts) return undefined;
  const meanUs = startsUs.reduce((sum, v) => sum + v, 0) / starts;
  if (starts < 2) return {starts, meanUs, deviationUs: undefined, boundUs: undefined};
  const deviationUs = Math.sqrt(startsUs.reduce((sum, v) => sum + (v - meanUs) ** 2, 0) / (starts - 1));
  if (starts < minStarts) return {starts, meanUs, deviationUs, boundUs: undefined};
  const t = studentT[starts - 2] ?? normal;
  const spread = Math.max(deviationUs, stepUs / Math.sqrt(12));
  return {starts, meanUs, deviationUs, boundUs: meanUs + t * spread * Math.sqrt(1 + 1 / starts)};
}

/**
 * By how much a level differs between two flights at equal motor speed. What grows with speed is one law for both, so that
 * other throttle is no other noise; the later flight has one coefficient beside it.
 */
import {fitLaw, speedTerms} from '../tracking/log-law';

export interface Change {
  /** Before over after, dB: positive where it is quieter. */
  readonly db: number;
  /** Half width of the 95 % interval, dB. */
  readonly bound: number;
}

/** One flight's powers, in the order of time. */
export interface Series {
  readonly atS: readonly number[];
  /** Revolutions per second, mean over the motors. */
  readonly speedHz: readonly number[];
  readonly power: readonly number[];
}

/** Moments that a level needs on either side. */
const fewest = 4;
/** Side of a law's coefficients that tells the flights apart. */
const later = 1;
const perNeper = 10 / Math.LN10;

/** Undefined where a side has no power above nothing, or too few moments. */
export function levelChange(before: Series, after: Series): Change | undefined {
  const sides = [before, after];
  if (sides.some(({power}) => power.length < fewest || !(mean(power) > 0))) return undefined;
  const speedHz = sides.flatMap((s) => s.speedHz);
  const split = before.power.length;
  const rows = speedTerms(speedHz, mean(speedHz)).map((terms, i) => [1, i < split ? 0 : 1, ...terms]);
  const law = fitLaw({
    ...{rows, splits: [split]},
    y: sides.flatMap((s) => s.power),
    atS: sides.flatMap((s) => s.atS),
  });
  return law && {db: -perNeper * law.b[later]!, bound: perNeper * law.boundOf(later)};
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** Linear least squares with rows that do not belong weighed down, and how sure each coefficient is. */
import {Matrix, inverse} from 'ml-matrix';
import {highestOf} from './trace';
import {median} from '../numbers/median';

export interface Fit {
  readonly values: readonly number[];
  /** Standard deviation of each value, neighbours that err alike counted as one. */
  readonly deviations: readonly number[];
  /** Standard deviation of what is left over. */
  readonly left: number;
}

/** Rounds of weighing; it settles well before. */
const rounds = 12;
/** Rows beyond this many deviations count less (Huber's constant, 95 % efficiency for normal errors). */
const huber = 1.345;

/**
 * Coefficients x of A·x ≈ b. `rows` holds A row by row in the order of time; `noise` is what each row may be off, in the unit
 * of b and up to a common factor. Undefined when the rows do not tell the coefficients apart.
 */
export function leastSquares(
  unweighted: readonly (readonly number[])[],
  right: readonly number[],
  noise?: readonly number[],
): Fit | undefined {
  const unknown = unweighted[0]?.length ?? 0;
  if (unweighted.length < 2 * unknown + 2) return undefined;
  const rows = noise ? unweighted.map((r, i) => r.map((value) => value / noise[i]!)) : unweighted;
  const b = noise ? right.map((value, i) => value / noise[i]!) : right;
  const scale = Array.from({length: unknown}, (_, c) => highestOf(rows.map((r) => Math.abs(r[c]!))) || 1);
  const scaled = rows.map((r) => r.map((value, c) => value / scale[c]!));
  let weights = rows.map(() => 1);
  let values: number[] = [];
  let left: number[] = [];
  let covariance: Matrix | undefined;
  for (let round = 0; round < rounds; round++) {
    const {normal, right} = normalEquations(scaled, b, weights);
    covariance = inverted(normal);
    if (!covariance) return undefined;
    values = covariance.mmul(Matrix.columnVector(right)).to1DArray();
    left = scaled.map((r, i) => b[i]! - r.reduce((sum, value, c) => sum + value * values[c]!, 0));
    const usual = 1.4826 * median(left.map(Math.abs)) || Number.MIN_VALUE;
    weights = left.map((e) => Math.min(1, (huber * usual) / Math.max(Math.abs(e), Number.MIN_VALUE)));
  }
  const freedom = Math.max(1, rows.length - unknown);
  const variance = left.reduce((sum, e, i) => sum + weights[i]! * e * e, 0) / freedom;
  const alike = errorsAlike(left);
  return {
    values: values.map((v, c) => v / scale[c]!),
    deviations: values.map((_, c) => Math.sqrt(Math.max(0, covariance!.get(c, c)) * variance * alike) / scale[c]!),
    left: Math.sqrt(variance),
  };
}

function normalEquations(rows: readonly (readonly number[])[], b: readonly number[], weights: readonly number[]) {
  const n = rows[0]!.length;
  const normal = Matrix.zeros(n, n);
  const right = new Array<number>(n).fill(0);
  rows.forEach((row, i) => {
    for (let r = 0; r < n; r++) {
      right[r]! += weights[i]! * row[r]! * b[i]!;
      for (let c = 0; c < n; c++) normal.set(r, c, normal.get(r, c) + weights[i]! * row[r]! * row[c]!);
    }
  });
  return {normal, right};
}

function inverted(normal: Matrix): Matrix | undefined {
  const diagonal = normal.diagonal();
  // A column of zeros says nothing.
  if (diagonal.some((d) => !(d > 0))) return undefined;
  try {
    const found = inverse(normal);
    return found.to1DArray().every(Number.isFinite) && found.diagonal().every((d) => d > 0) ? found : undefined;
  } catch {
    return undefined;
  }
}

/** By how much errors that follow each other count for fewer: (1 + ρ)/(1 − ρ) of a first-order process. */
function errorsAlike(left: readonly number[]): number {
  let [own, next] = [0, 0];
  for (let i = 1; i < left.length; i++) {
    own += left[i]! ** 2;
    next += left[i]! * left[i - 1]!;
  }
  const alike = own > 0 ? Math.min(0.98, Math.max(0, next / own)) : 0;
  return (1 + alike) / (1 - alike);
}

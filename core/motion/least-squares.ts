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
/** A round that changes every value by less than this share was the last that is needed. */
const settled = 1e-9;
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
  const count = unweighted.length;
  const scale = Array.from({length: unknown}, (_, c) => highestOf(unweighted.map((r) => Math.abs(r[c]!))) || 1);
  const system = scaledSystem({unweighted, right, noise}, scale);
  const weights = new Float64Array(count).fill(1);
  const left = new Float64Array(count);
  let values: number[] = [];
  let covariance: Matrix | undefined;
  for (let round = 0; round < rounds; round++) {
    const {normal, right} = normalEquations(system, weights);
    covariance = inverted(normal);
    if (!covariance) return undefined;
    const before = values;
    values = covariance.mmul(Matrix.columnVector(right)).to1DArray();
    leaveOver(system, values, left);
    const usual = 1.4826 * median(left.map(Math.abs)) || Number.MIN_VALUE;
    for (let i = 0; i < count; i++)
      weights[i] = Math.min(1, (huber * usual) / Math.max(Math.abs(left[i]!), Number.MIN_VALUE));
    if (values.every((v, c) => Math.abs(v - before[c]!) <= settled * Math.abs(v))) break;
  }
  const freedom = Math.max(1, count - unknown);
  const variance = left.reduce((sum, e, i) => sum + weights[i]! * e * e, 0) / freedom;
  const alike = errorsAlike(left);
  return {
    values: values.map((v, c) => v / scale[c]!),
    deviations: values.map((_, c) => Math.sqrt(Math.max(0, covariance!.get(c, c)) * variance * alike) / scale[c]!),
    left: Math.sqrt(variance),
  };
}

/** Every row divided by its noise, and every column by its scale. */
interface System {
  readonly unknown: number;
  /** Row by row. */
  readonly rows: Float64Array;
  readonly right: Float64Array;
}

interface Equations {
  readonly unweighted: readonly (readonly number[])[];
  readonly right: readonly number[];
  readonly noise: readonly number[] | undefined;
}

function scaledSystem({unweighted, right, noise}: Equations, scale: readonly number[]): System {
  const unknown = scale.length;
  const rows = new Float64Array(unweighted.length * unknown);
  unweighted.forEach((row, i) => {
    for (let c = 0; c < unknown; c++) rows[i * unknown + c] = row[c]! / ((noise?.[i] ?? 1) * scale[c]!);
  });
  return {unknown, rows, right: Float64Array.from(right, (value, i) => value / (noise?.[i] ?? 1))};
}

/** What each equation is off by. */
function leaveOver({unknown, rows, right}: System, values: readonly number[], left: Float64Array): void {
  for (let i = 0; i < left.length; i++) {
    let sum = right[i]!;
    for (let c = 0; c < unknown; c++) sum -= rows[i * unknown + c]! * values[c]!;
    left[i] = sum;
  }
}

function normalEquations({unknown: n, rows, right: b}: System, weights: Float64Array) {
  const normal = new Float64Array(n * n);
  const right = new Array<number>(n).fill(0);
  for (let i = 0; i < weights.length; i++)
    for (let r = 0; r < n; r++) {
      const weighted = weights[i]! * rows[i * n + r]!;
      right[r]! += weighted * b[i]!;
      for (let c = 0; c < n; c++) normal[r * n + c]! += weighted * rows[i * n + c]!;
    }
  return {normal: Matrix.from1DArray(n, n, Array.from(normal)), right};
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
function errorsAlike(left: Float64Array): number {
  let [own, next] = [0, 0];
  for (let i = 1; i < left.length; i++) {
    own += left[i]! ** 2;
    next += left[i]! * left[i - 1]!;
  }
  const alike = own > 0 ? Math.min(0.98, Math.max(0, next / own)) : 0;
  return (1 + alike) / (1 - alike);
}

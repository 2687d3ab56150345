/**
 * A law for powers: the mean of y is exp(Σ bₖ·xₖ). Fitted by quasi-likelihood with a variance that goes with the mean's
 * square (McCullagh and Nelder 1989, chapter 9), which also takes powers from which a floor was subtracted and that lie
 * below nothing now and then. Neighbouring moments are alike: the variance of a coefficient sums the products of their
 * parts with Bartlett's weights (Newey and West 1987) over a quarter of the time, and the critical value is that of
 * Kiefer and Vogelsang (2005) for such a share, as we remember it; `bidex calibrate` measures how often a bound holds.
 */
import {cholesky, solve} from '../../numbers/cholesky';

interface LawQuestion {
  /** What each power depends on; the first column is 1. */
  readonly rows: readonly (readonly number[])[];
  readonly y: readonly number[];
  /** When each was measured, s. */
  readonly atS: readonly number[];
  /** Where a flight's moments end and another's begin. */
  readonly splits?: readonly number[];
}

interface Law {
  readonly b: Float64Array;
  /** Variance of a coefficient. */
  varianceOf(k: number): number;
}

/** Share of a flight over which moments may be alike. */
const windowShare = 0.25;
/** At 95 %, of Bartlett's weights over that share. */
export const criticalValue = 1.96 + 2.9694 * windowShare + 0.416 * windowShare ** 2 - 0.5324 * windowShare ** 3;
const rounds = 60;
/** A step of the coefficients from which on they count as found; a fit that comes no nearer is none. */
const settled = {at: 1e-7, near: 1e-3};

/** Undefined where the mean is not above nothing, or the rows do not tell the coefficients apart. */
export function fitLaw({rows, y, atS, splits = []}: LawQuestion): Law | undefined {
  const n = rows[0]?.length ?? 0;
  const mean = y.reduce((sum, v) => sum + v, 0) / y.length;
  const factor = rows.length > n && mean > 0 ? cholesky(normalOf(rows), n) : undefined;
  const b = factor && converge({rows, y}, factor, Math.log(mean));
  if (!factor || !b) return undefined;
  const off = offOf({rows, y}, b);
  const ends = [...splits, rows.length];
  return {
    b,
    varianceOf(k) {
      const unit = new Float64Array(n);
      unit[k] = 1;
      const influence = solve(factor, n, unit);
      const parts = rows.map((row, i) => dot(row, influence) * off[i]!);
      return ends.reduce((sum, end, s) => {
        const from = ends[s - 1] ?? 0;
        return sum + alikeVariance(parts.slice(from, end), atS.slice(from, end));
      }, 0);
    },
  };
}

type Fitted = Pick<LawQuestion, 'rows' | 'y'>;

/** By how much each power is off its mean, as a share of that. */
const offOf = ({rows, y}: Fitted, b: Float64Array): number[] => rows.map((row, i) => y[i]! / Math.exp(dot(row, b)) - 1);

function converge(fitted: Fitted, factor: Float64Array, start: number): Float64Array | undefined {
  const n = fitted.rows[0]!.length;
  const b = new Float64Array(n);
  b[0] = start;
  let largest = Infinity;
  for (let round = 0; round < rounds; round++) {
    const off = offOf(fitted, b);
    const score = new Float64Array(n);
    fitted.rows.forEach((row, i) => row.forEach((v, k) => (score[k]! += v * off[i]!)));
    const step = solve(factor, n, score);
    largest = Math.max(...step.map(Math.abs));
    if (!Number.isFinite(largest)) return undefined;
    for (let k = 0; k < n; k++) b[k]! += step[k]! * Math.min(1, 1 / largest);
    if (largest < settled.at) break;
  }
  return largest < settled.near ? b : undefined;
}

/** Σ w(tᵢ − tⱼ) uᵢ uⱼ, w falling from 1 to 0 over the window. */
function alikeVariance(u: readonly number[], atS: readonly number[]): number {
  const window = windowShare * ((atS.at(-1) ?? 0) - (atS[0] ?? 0));
  let sum = 0;
  let from = 0;
  for (let i = 0; i < u.length; i++) {
    while (atS[i]! - atS[from]! > window) from++;
    for (let j = from; j < i; j++) sum += 2 * (1 - (atS[i]! - atS[j]!) / window) * u[i]! * u[j]!;
    sum += u[i]! * u[i]!;
  }
  return sum;
}

function normalOf(rows: readonly (readonly number[])[]): Float64Array {
  const n = rows[0]!.length;
  const matrix = new Float64Array(n * n);
  for (const row of rows)
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) matrix[i * n + j]! += row[i]! * row[j]!;
  return matrix;
}

const dot = (row: readonly number[], b: Float64Array): number => row.reduce((sum, v, k) => sum + v * b[k]!, 0);

/** Speeds that differ by less tell no law, as a deviation of the logarithm. */
const minSpread = {slope: 0.01, curve: 0.08};

/** What a power may depend on of the speed it was measured at: its logarithm around a centre, and the square of that. */
export function speedTerms(speedHz: readonly number[], centreHz: number): number[][] {
  const x = speedHz.map((v) => Math.log(v / centreHz));
  const mean = x.reduce((sum, v) => sum + v, 0) / x.length;
  const spread = Math.sqrt(x.reduce((sum, v) => sum + (v - mean) ** 2, 0) / x.length);
  return x.map((v) => (spread < minSpread.slope ? [] : spread < minSpread.curve ? [v] : [v, v * v]));
}

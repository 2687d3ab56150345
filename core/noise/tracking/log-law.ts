/**
 * A law for powers: the mean of y is exp(Σ bₖ·xₖ). Fitted by quasi-likelihood with a variance that goes with the mean's
 * square (McCullagh and Nelder 1989, chapter 9), which also takes powers from which a floor was subtracted and that lie
 * below nothing now and then. Neighbouring moments are alike: the variance of a coefficient is that of the sums of its
 * parts second by second, each freed of what it shares with the one before (Andrews and Monahan 1992; the share after
 * Kendall 1954), with Bartlett's weights over half of the time (Newey and West 1987) and the critical value of Kiefer
 * and Vogelsang (2005) for such a window, all as we remember them, wider by Student's quantile where few stretches of the
 * flights do not depend on each other; `bidex calibrate` measures how often a bound holds.
 */
import {cholesky, solve} from '../../numbers/cholesky';
import {normal95, student95} from '../../numbers/student';

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
  /** Half width of the 95 % interval of a coefficient. */
  boundOf(k: number): number;
}

/** Share of a flight over which its seconds may be alike. */
const windowShare = 0.5;
/** At 95 %, of Bartlett's weights over that share. */
export const criticalValue = normal95 + 2.9694 * windowShare + 0.416 * windowShare ** 2 - 0.5324 * windowShare ** 3;
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
    boundOf(k) {
      const unit = new Float64Array(n);
      unit[k] = 1;
      const influence = solve(factor, n, unit);
      const parts = rows.map((row, i) => dot(row, influence) * off[i]!);
      const flights = ends.map((end, s) => {
        const from = ends[s - 1] ?? 0;
        return sumOf(parts.slice(from, end), atS.slice(from, end));
      });
      const variance = flights.reduce((sum, f) => sum + f.variance, 0);
      const stretches = flights.reduce((sum, f) => sum + f.stretches, 0);
      return criticalValue * fewWiden(stretches - n) * Math.sqrt(variance);
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

/** Moments are summed over so long, s; over less where a flight is short, so that there are so many sums at least. */
const sums = {lastS: 1, fewest: 8};
/** One second shares no more of the next than this, as far as a flight of minutes can show. */
const mostShared = 0.8;
/** Of fewer the quantile tells more of itself than of the flight. */
const minFreedom = 3;

/** Variance of the sum of the parts of one flight, and in how many stretches that do not depend on each other it was seen. */
function sumOf(u: readonly number[], atS: readonly number[]): {variance: number; stretches: number} {
  const {all, seen} = summed(u, atS);
  const shared = sharedWithNext(all);
  const freed = all.slice(1).map((v, i) => v - shared * all[i]!);
  const window = Math.max(1, windowShare * all.length);
  let variance = 0;
  for (let lag = 0; lag < Math.min(window, freed.length); lag++) {
    let product = 0;
    for (let i = lag; i < freed.length; i++) product += freed[i]! * freed[i - lag]!;
    variance += (lag ? 2 : 1) * (1 - lag / window) * product;
  }
  // The first sum has none before it: the others stand for it.
  variance *= all.length / freed.length / (1 - shared) ** 2;
  // Of a series in which each shares so much of the one before (Bayley and Hammersley 1946); what was not seen counts nothing.
  return {variance, stretches: (seen.size * (1 - shared)) / (1 + shared)};
}

/** By how much the interval of so few degrees of freedom is wider than that of many. */
const fewWiden = (freedom: number): number => student95(Math.max(minFreedom, freedom)) / normal95;

/** Sums of equal length, and which of them have a part at all. */
function summed(u: readonly number[], atS: readonly number[]): {all: number[]; seen: ReadonlySet<number>} {
  const span = atS.at(-1)! - atS[0]!;
  const all = Array.from({length: Math.max(sums.fewest, Math.ceil(span / sums.lastS))}, () => 0);
  const at = atS.map((t) => Math.min(all.length - 1, Math.floor(((t - atS[0]!) / span) * all.length)));
  u.forEach((v, i) => (all[at[i]!]! += v));
  return {all, seen: new Set(at)};
}

/** Share of each sum that comes back in the next, 0…1; short series show too little of it. */
function sharedWithNext(all: readonly number[]): number {
  const [own, next] = [0, 1].map((lag) => all.reduce((sum, v, i) => sum + v * (all[i - lag] ?? 0), 0));
  const seen = own! > 0 ? next! / own! : 0;
  return Math.min(mostShared, Math.max(0, seen + (1 + 3 * seen) / all.length));
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

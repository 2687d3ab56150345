/**
 * Which pole count makes the logged speeds fit the noise. Every motor is listened to at its own speed: a craft whose rear
 * motors turn faster has no common ridge of motor 1. Every even count is scored by the mean log density at once, twice and
 * three times the speed that it gives, over all motors and moments.
 */
import {Periodogram} from './welch';

export interface PoleVerdict {
  readonly kind: 'found';
  /** The even count that fits best. */
  readonly poles: number;
  /** Frequency of the noise over the speed with the planned count: 1 where the planned count is right. */
  readonly ratio: number;
  /** The best count over the median of all, dB. */
  readonly prominenceDb: number;
  /** The best count over the next best, dB. */
  readonly marginDb: number;
}

export interface NoPoleVerdict {
  readonly kind: 'unclear';
  readonly why: string;
}

export interface PoleQuestion {
  /** deg/s, one axis. */
  readonly gyro: Float64Array;
  readonly sampleRateHz: number;
  /** Electrical rpm of each motor as logged. */
  readonly erpm: readonly Float64Array[];
  readonly plannedPoles: number;
}

/** Counts that motors have (common practice: 6 to 36). */
const counts = Array.from({length: 17}, (_, i) => 4 + 2 * i);
/** Length of a moment, s: long enough to tell lines apart, short enough that speeds hardly change in it. */
const momentS = 0.128;
/** A moment in which a motor's speed changes by more than this share smears its line and is left out. */
const mostChange = 0.08;
/** Below this nobody can tell a motor line from the pilot's hand, Hz. */
const lowestHz = 60;
/** The 95th speed over the 5th; less, and a fixed resonance looks like a motor line of some count. */
export const leastVariation = 1.25;
/** A best count weaker than this over the median of all says nothing, dB. */
export const clearDb = 5;
/** The best count must lead the next by this, dB. */
export const clearMarginDb = 1.5;
const harmonics = [1, 2, 3];

export function findPoleCount(q: PoleQuestion): PoleVerdict | NoPoleVerdict {
  if (!q.erpm.length) return unclear('The log has no motor speeds.');
  const moments = momentsOf(q);
  const variation = speedVariation(moments);
  if (moments.length < 8) return unclear('Too few moments with turning motors.');
  if (variation < leastVariation)
    return unclear(
      `The motors' speeds vary by a factor of ${variation.toFixed(2)} only; at one speed any fixed resonance would fit some count. Fly with more throttle changes.`,
    );
  const scores = counts.map((poles) => score(moments, 2 / poles / 60, harmonics));
  const order = [...scores.keys()].sort((a, b) => scores[b]! - scores[a]!);
  const [best, next] = [order[0]!, order[1]!];
  const median = [...scores].sort((a, b) => a - b)[scores.length >> 1]!;
  const prominenceDb = scores[best]! - median;
  const marginDb = scores[best]! - scores[next]!;
  if (prominenceDb < clearDb || marginDb < clearMarginDb)
    return unclear(
      'Motor noise does not stand out, so this flight says nothing about the pole count. A filtered log looks like this.',
    );
  const poles = counts[best]!;
  return {kind: 'found', poles, ratio: fineRatio(moments, q.plannedPoles, poles), prominenceDb, marginDb};
}

/** One window of the flight: its density, and the electrical frequency of every motor in it, Hz × pole pairs × 60. */
interface Moment {
  readonly db: Float64Array;
  readonly stepHz: number;
  readonly erpm: readonly number[];
}

function momentsOf({gyro, sampleRateHz, erpm}: PoleQuestion): Moment[] {
  const segment = 2 ** Math.round(Math.log2(momentS * sampleRateHz));
  const periodogram = new Periodogram(segment, sampleRateHz);
  const density = new Float64Array(segment / 2 + 1);
  const moments: Moment[] = [];
  for (let at = 0; at + segment <= gyro.length; at += segment / 2) {
    const speeds = erpm.map((e) => e[at + segment / 2]!);
    if (speeds.some((e) => !(e > 0))) continue;
    if (erpm.some((e, m) => Math.abs(e[at + segment - 1]! - e[at]!) > mostChange * speeds[m]!)) continue;
    density.fill(0);
    periodogram.accumulate(gyro, at, density);
    const db = density.map((d) => 10 * Math.log10(d + 1e-12));
    moments.push({db: whitened(db), stepHz: sampleRateHz / segment, erpm: speeds});
  }
  return moments;
}

/** Decibels above the median of the neighbourhood: a gyro is louder at low frequencies whatever the motors do. */
function whitened(db: Float64Array): Float64Array {
  const half = 12;
  return db.map((value, k) => {
    const near = [...db.subarray(Math.max(0, k - half), Math.min(db.length, k + half + 1))].sort((a, b) => a - b);
    return value - near[near.length >> 1]!;
  });
}

function speedVariation(moments: readonly Moment[]): number {
  const ratios = (moments[0]?.erpm ?? []).map((_, m) => {
    const sorted = moments.map((moment) => moment.erpm[m]!).sort((a, b) => a - b);
    return sorted[Math.floor(0.95 * (sorted.length - 1))]! / sorted[Math.floor(0.05 * (sorted.length - 1))]!;
  });
  return Math.max(1, ...ratios);
}

/** Mean level at the harmonics of `erpm × toHz`, dB above the neighbourhood; harmonics beyond the log's range are left out. */
function score(moments: readonly Moment[], toHz: number, orders: readonly number[]): number {
  let total = 0;
  for (const order of orders) {
    let sum = 0;
    let used = 0;
    for (const {db, stepHz, erpm} of moments)
      for (const e of erpm) {
        const hz = e * toHz * order;
        if (hz < lowestHz || hz >= (db.length - 2) * stepHz) continue;
        sum += at(db, hz / stepHz);
        used++;
      }
    total += used ? sum / used : 0;
  }
  return total / orders.length;
}

/** The level at a bin, between bins by straight line. */
function at(db: Float64Array, bin: number): number {
  const k = Math.floor(bin);
  return db[k]! * (1 - bin + k) + db[k + 1]! * (bin - k);
}

/** The ratio near the best count at which the first harmonic is strongest: what was found, not what was rounded to. */
function fineRatio(moments: readonly Moment[], planned: number, poles: number): number {
  const centre = planned / poles;
  let best = centre;
  let bestScore = -Infinity;
  for (let r = centre * 0.95; r <= centre * 1.05; r += 0.0025) {
    const s = score(moments, (2 / planned / 60) * r, harmonics);
    if (s > bestScore) [best, bestScore] = [r, s];
  }
  return best;
}

const unclear = (why: string): NoPoleVerdict => ({kind: 'unclear', why});

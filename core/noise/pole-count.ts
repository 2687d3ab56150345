/**
 * Which pole count makes the logged speeds fit the noise. Every motor is listened to at its own speed, on all axes: a craft
 * whose rear motors turn faster has no common ridge of motor 1. Every even count is scored by the mean level at once, twice
 * and three times the speed that it gives, over all motors and moments.
 */
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {Periodogram} from '../spectra/periodogram';
import {imageOf} from './aliased-lines';
import {momentsOf} from './tracking/moments';
import {whitened} from './whitened';
import {upperMedian} from '../numbers/median';

interface PoleScore {
  readonly poles: number;
  /** Mean level over its neighbourhood at the lines that this count gives, dB. */
  readonly score: number;
}

interface Scored {
  readonly candidates: readonly PoleScore[];
}

export interface PoleVerdict extends Scored {
  readonly kind: 'found';
  /** The even count that fits best. */
  readonly poles: number;
  /** Frequency of the noise over the speed with the logged count: 1 where that is right. */
  readonly ratio: number;
  /** The best count over the median of all, dB. */
  readonly prominenceDb: number;
  /** The best count over the next best, dB. */
  readonly marginDb: number;
}

export interface NoPoleVerdict extends Scored {
  readonly kind: 'unclear';
  readonly why: string;
}

/** Counts that motors have (common practice). */
const poleCandidates = Array.from({length: 12}, (_, i) => 6 + 2 * i);
/** Length of a moment, s: long enough to tell lines apart, short enough that speeds hardly change in it. */
const momentS = 0.128;
/** A moment in which a motor's speed changes by more than this share smears its line and is left out. */
const maxChange = 0.08;
/** Filled rows leave a line where it is. */
const maxFilled = 0.3;
/** Moments that are listened to: more change no score. */
const maxMoments = 500;
/** Below this nobody can tell a motor line from the pilot's hand, Hz. */
const lowestHz = 60;
/** The 95th speed over the 5th; less, and a fixed resonance looks like a motor line of some count. */
const minVariation = 1.25;
/** A best count weaker than this over the median of all says nothing, dB. */
const clearDb = 4;
/** The best count must lead the next by this, dB. */
const clearMarginDb = 1.5;
const harmonics = [1, 2, 3];

/** @param electricalHz electrical turns per second of every motor, lost replies bridged. */
export function findPoleCount(
  log: FlightLog,
  electricalHz: readonly Float32Array[],
  loggedPoles: number,
): PoleVerdict | NoPoleVerdict {
  const candidates: PoleScore[] = poleCandidates.map((poles) => ({poles, score: 0}));
  const unclear = (why: string, scored: readonly PoleScore[] = candidates): NoPoleVerdict => ({
    kind: 'unclear',
    why,
    candidates: scored,
  });
  if (!electricalHz.length) return unclear('The log has no motor speeds.');
  const moments = listen(log, electricalHz);
  if (moments.length < 8) return unclear('Too few moments with all motors turning steadily.');
  const scored = candidates.map(({poles}) => ({poles, score: score(moments, 2 / poles)}));
  const variation = speedVariation(moments);
  if (variation < minVariation)
    return unclear(
      `The motors' speeds vary by a factor of ${variation.toFixed(2)} only; at one speed any fixed resonance would fit some count. Fly with more throttle changes.`,
      scored,
    );
  const [best, next] = [...scored].sort((a, b) => b.score - a.score);
  const prominenceDb = best!.score - upperMedian(scored.map((s) => s.score));
  const marginDb = best!.score - next!.score;
  if (prominenceDb < clearDb || marginDb < clearMarginDb)
    return unclear(
      beyondHalf(moments, log.sampleRateHz, loggedPoles) > maxBeyond
        ? `Most motor lines lie beyond half of this log's rate (${(log.sampleRateHz / 2).toFixed(0)} Hz) and alias down among each other, so it says nothing about the pole count. Log at a higher rate.`
        : 'Motor noise does not stand out, so this flight says nothing about the pole count. A filtered log looks like this.',
      scored,
    );
  const ratio = fineRatio(moments, loggedPoles, best!.poles);
  return {kind: 'found', poles: best!.poles, ratio, prominenceDb, marginDb, candidates: scored};
}

/** One window of the flight: its levels over their neighbourhood, and the electrical frequency of every motor in it. */
interface Heard {
  readonly db: readonly Float64Array[];
  readonly stepHz: number;
  readonly electricalHz: readonly number[];
}

function listen(log: FlightLog, electricalHz: readonly Float32Array[]): Heard[] {
  const length = 2 ** Math.round(Math.log2(momentS * log.sampleRateHz));
  const periodogram = new Periodogram(length, log.sampleRateHz);
  const moments = momentsOf(log, electricalHz, {
    length,
    hop: length / 2,
    maxChange,
    maxFilled,
    most: maxMoments,
  });
  return moments.map(({at, motorsHz}) => ({
    stepHz: periodogram.stepHz,
    electricalHz: motorsHz,
    db: axes.map((axis) => {
      const density = new Float64Array(periodogram.bins);
      periodogram.accumulate(log.gyro[axis], at, density);
      return whitened(density.map((d) => 10 * Math.log10(d + 1e-12)));
    }),
  }));
}

function speedVariation(moments: readonly Heard[]): number {
  const ratios = (moments[0]?.electricalHz ?? []).map((_, m) => {
    const sorted = moments.map((moment) => moment.electricalHz[m]!).sort((a, b) => a - b);
    return sorted[Math.floor(0.95 * (sorted.length - 1))]! / sorted[Math.floor(0.05 * (sorted.length - 1))]!;
  });
  return Math.max(1, ...ratios);
}

/** From this share of lines on, a log is called too slow for them. */
const maxBeyond = 0.4;

/** Share of the motors' lines that lie beyond half the rate with the count that was logged, 0…1. */
function beyondHalf(moments: readonly Heard[], rateHz: number, poles: number): number {
  const lines = moments.flatMap(({electricalHz}) =>
    electricalHz.flatMap((e) => harmonics.map((order) => (order * e * 2) / poles)),
  );
  return lines.filter((hz) => hz > rateHz / 2).length / Math.max(1, lines.length);
}

/**
 * Mean level at the harmonics of the speeds that `toHz` gives, dB. A harmonic beyond half the log's rate is looked for where
 * it aliases down to; one that comes out below the motors' band counts for nothing.
 */
function score(moments: readonly Heard[], toHz: number): number {
  let total = 0;
  for (const order of harmonics) {
    let sum = 0;
    let used = 0;
    for (const {db, stepHz, electricalHz} of moments)
      for (const e of electricalHz) {
        const last = db[0]!.length - 1;
        const hz = imageOf(e * toHz * order, 2 * last * stepHz);
        if (hz < lowestHz || hz >= (last - 1) * stepHz) continue;
        for (const axis of db) sum += at(axis, hz / stepHz);
        used += db.length;
      }
    total += used ? sum / used : 0;
  }
  return total / harmonics.length;
}

/** The level at a bin, between bins by straight line. */
function at(db: Float64Array, bin: number): number {
  const k = Math.floor(bin);
  return db[k]! * (1 - bin + k) + db[k + 1]! * (bin - k);
}

/** The ratio near the best count at which the lines are strongest: what was found, not what was rounded to. */
function fineRatio(moments: readonly Heard[], loggedPoles: number, poles: number): number {
  const centre = loggedPoles / poles;
  let best = centre;
  let bestScore = -Infinity;
  for (let r = centre * 0.95; r <= centre * 1.05; r += 0.0025) {
    const s = score(moments, (2 / loggedPoles) * r);
    if (s > bestScore) [best, bestScore] = [r, s];
  }
  return best;
}

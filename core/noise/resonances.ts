/**
 * Fixed resonances: what stays at its frequency whatever the motors do. Spectra of moments in which no motor line comes
 * near a bin give that bin's level; a peak of the rest is fitted by a two-pole resonance, frequency and Q. A log without
 * motor speeds tells what stands at every throttle.
 */
import {axes, type Axis} from '../flight/mapping';
import {damagedShare} from '../flight/damage';
import type {FlightLog} from '../flight/flight-log';
import {Periodogram} from '../spectra/periodogram';
import {segmentStarts} from '../spectra/segments';
import {imageOf} from './aliased-lines';
import {atEverySpeed, type EverySpeed} from './tracking/every-speed';
import {whitened} from './whitened';
import type {MotorSpeeds} from './tracking/motor-speeds';

export interface Resonance {
  readonly axis: Axis;
  readonly hz: number;
  readonly q: number;
  /** As narrow as the window can show: no part of a frame rings so sharply. */
  readonly isTone: boolean;
  /** Over its neighbourhood, dB. */
  readonly prominenceDb: number;
  /** Moments that its level was taken from. */
  readonly moments: number;
  /** Speeds or throttle over which it stands there, where no moment is free of motor lines. */
  readonly over?: Pick<EverySpeed, 'range' | 'isThrottle'> | undefined;
}

type Peak = Omit<Resonance, 'axis'>;

/** Resonances nearer than this are one, seen on several axes, Hz. */
const sameHz = 8;
export const isSameResonance = (aHz: number, bHz: number): boolean => Math.abs(aHz - bHz) < sameHz;

/** Length of a moment, s: a resonance of Q 40 at 200 Hz is 5 Hz wide. */
const momentS = 0.5;
const maxMoments = 400;
/** Below this the pilot's hand, the air and the control loop make peaks of their own, Hz. */
const lowestHz = 50;
/** A peak stands out from here, dB. */
const minProminenceDb = 6;
/** Peaks nearer to each other are one. */
const samePeakHz = 15;
/** Moments that a bin's level needs. */
const minMoments = 8;
/** A motor line takes so many Hz and this share of its frequency to either side. */
const lineHz = 6;
const lineShare = 0.03;
const orders = [0.5, 1, 2, 3, 4];
/** A moment of which more was filled in is left out. */
const maxFilled = 0.3;

/** None where the log says neither how fast the motors turned nor enough of its throttle: a motor line may look like one. */
export function findResonances(log: FlightLog, {hz}: MotorSpeeds): Resonance[] {
  const length = 2 ** Math.round(Math.log2(momentS * log.sampleRateHz));
  const periodogram = new Periodogram(length, log.sampleRateHz);
  const starts = startsOf(log, length);
  const beside = hz.length ? besideLines(log, hz, {periodogram, starts}) : undefined;
  const every = atEverySpeed(log, hz, {periodogram, starts});
  return axes.flatMap((axis, a): Resonance[] => {
    const peaks = beside ? peaksOf(beside.density[a]!, beside.counts, periodogram.stepHz) : [];
    const more = every ? peaksOf(every.density[a]!, every.counts, periodogram.stepHz) : [];
    // Where moments are free of lines, they say what is there; only elsewhere does the rest count.
    const isOpen = ({hz: at}: Peak) => {
      const bin = Math.round(at / periodogram.stepHz);
      return (!beside || beside.counts[bin]! < minMoments) && every!.isSteady(a, bin);
    };
    const over = every && {range: every.range, isThrottle: every.isThrottle};
    return [...peaks.map((peak) => ({axis, ...peak})), ...more.filter(isOpen).map((peak) => ({axis, ...peak, over}))];
  });
}

/** First samples of the moments to look at, thinned out evenly; those that were not measured are left out. */
function startsOf(log: FlightLog, length: number): number[] {
  const all = [...segmentStarts(log.stretches, {segment: length, hop: length >> 1})].filter((at) => {
    const damaged = log.damage && damagedShare(log.damage, at, length);
    return !damaged || (damaged.clipped === 0 && damaged.filled <= maxFilled);
  });
  const stride = Math.max(1, all.length / maxMoments);
  return Array.from({length: Math.floor(all.length / stride)}, (_, i) => all[Math.floor(i * stride)]!);
}

interface Moments {
  readonly periodogram: Periodogram;
  readonly starts: readonly number[];
}

/** Mean density of every bin over the moments in which no motor line is near it. */
function besideLines(log: FlightLog, hz: readonly Float32Array[], {periodogram, starts}: Moments) {
  const {bins, length, stepHz} = periodogram;
  const density = axes.map(() => new Float64Array(bins));
  const counts = new Float64Array(bins);
  const near = new Uint8Array(bins);
  const one = new Float64Array(bins);
  for (const at of starts) {
    near.fill(0);
    for (const speed of hz) markLines(near, speed.subarray(at, at + length), {stepHz, sampleRateHz: log.sampleRateHz});
    axes.forEach((axis, a) => {
      one.fill(0);
      periodogram.accumulate(log.gyro[axis], at, one);
      for (let k = 0; k < bins; k++) if (!near[k]) density[a]![k]! += one[k]!;
    });
    for (let k = 0; k < bins; k++) if (!near[k]) counts[k]!++;
  }
  for (const d of density) for (let k = 0; k < bins; k++) d[k] = counts[k] ? d[k]! / counts[k]! : NaN;
  return {density, counts};
}

function markLines(
  near: Uint8Array,
  speed: Float32Array,
  {stepHz, sampleRateHz}: {readonly stepHz: number; readonly sampleRateHz: number},
): void {
  let least = Infinity;
  let most = 0;
  for (let i = 0; i < speed.length; i += 8) {
    if (speed[i]! < least) least = speed[i]!;
    if (speed[i]! > most) most = speed[i]!;
  }
  for (const order of orders) {
    const from = order * least * (1 - lineShare) - lineHz;
    const to = order * most * (1 + lineShare) + lineHz;
    // A line beyond half the rate is seen where it aliases down to.
    for (let at = from; at <= to; at += stepHz / 2) {
      const k = Math.round(imageOf(at, sampleRateHz) / stepHz);
      if (k < near.length) near[k] = 1;
    }
  }
}

function peaksOf(density: Float64Array, counts: Float64Array, stepHz: number): Peak[] {
  const filled = withoutHoles(density, counts);
  const smooth = smoothed(filled, 2);
  const db = smooth.map((d) => 10 * Math.log10(d + 1e-12));
  // The neighbourhood is wider than a resonance of low Q.
  const over = whitened(db, Math.round(60 / stepHz));
  const found: Peak[] = [];
  const first = Math.ceil(lowestHz / stepHz);
  const order = [...over.keys()].filter((k) => k >= first && k < over.length - 4 && isMaximum(db, k, 6));
  order.sort((a, b) => over[b]! - over[a]!);
  for (const k of order) {
    if (over[k]! < minProminenceDb || counts[k]! < minMoments) continue;
    const fitted = fit(filled, k, stepHz);
    if (!fitted || found.some((f) => Math.abs(f.hz - fitted.hz) < samePeakHz)) continue;
    found.push({...fitted, prominenceDb: over[k]!, moments: counts[k]!});
    if (found.length === 4) break;
  }
  return found;
}

const isMaximum = (db: Float64Array, k: number, reach: number): boolean => {
  for (let i = Math.max(1, k - reach); i <= Math.min(db.length - 1, k + reach); i++) if (db[i]! > db[k]!) return false;
  return true;
};

/** Bins that no moment leaves free take the level between their neighbours. */
function withoutHoles(density: Float64Array, counts: Float64Array): Float64Array {
  const out = Float64Array.from(density);
  const isHole = (k: number) => k < out.length && counts[k]! < minMoments;
  for (let k = 0; k < out.length; k++) {
    if (!isHole(k)) continue;
    let end = k;
    while (isHole(end)) end++;
    const from = out[k - 1] ?? out[end] ?? 0;
    const to = out[end] ?? from;
    for (let i = k; i < end; i++) out[i] = from + ((to - from) * (i - k + 1)) / (end - k + 1);
    k = end;
  }
  return out;
}

function smoothed(values: Float64Array, half: number): Float64Array {
  return values.map((_, k) => {
    let sum = 0;
    let count = 0;
    for (let i = Math.max(0, k - half); i <= Math.min(values.length - 1, k + half); i++) {
      sum += values[i]!;
      count++;
    }
    return sum / count;
  });
}

/**
 * |H|² of a two-pole resonance near its top: A / (1 + (2Q(f/f₀ − 1))²) over a level floor. 1/(density − floor) is then a
 * parabola in f; its least squares, weighted by the square of the density, give f₀ and Q.
 */
function fit(density: Float64Array, near: number, stepHz: number): Pick<Resonance, 'hz' | 'q' | 'isTone'> | undefined {
  const peak = strongestNear(density, near);
  const reach = Math.round(60 / stepHz);
  const around = density.slice(Math.max(1, peak - reach), peak + reach + 1).sort();
  const floor = around[Math.floor(around.length * 0.2)]!;
  const top = smoothed(density.slice(peak - 1, peak + 2), 1)[1]! - floor;
  if (!(top > 0)) return undefined;
  const [from, to] = [-1, 1].map((way) => {
    let k = peak;
    while (k > 1 && k < density.length - 1 && Math.abs(k - peak) < reach && density[k + way]! - floor > top / 4)
      k += way;
    return k;
  }) as [number, number];
  if (to - from < 3) return {hz: peak * stepHz, q: (peak * stepHz) / (hannWidth * stepHz), isTone: true};
  const sums = new Float64Array(8);
  for (let k = from; k <= to; k++) {
    const d = Math.max(density[k]! - floor, top / 50);
    const [x, y, w] = [k - peak, 1 / d, d * d * d * d];
    for (let p = 0; p < 5; p++) sums[p]! += w * x ** p;
    for (let p = 0; p < 3; p++) sums[5 + p]! += w * y * x ** p;
  }
  const c = parabola(sums);
  if (!c || !(c[2] > 0)) return undefined;
  const centre = -c[1] / (2 * c[2]);
  const least = c[0] - (c[1] * c[1]) / (4 * c[2]);
  if (!(least > 0) || Math.abs(centre) > reach) return undefined;
  // Half width in bins, the window's own taken off.
  const half = Math.sqrt(least / c[2]);
  const width = Math.max(0.3, Math.sqrt(Math.max(0, (2 * half) ** 2 - hannWidth ** 2)));
  const hz = (peak + centre) * stepHz;
  return {hz, q: hz / (width * stepHz), isTone: 2 * half < toneWidth};
}
/** The strongest bin within the width that was smoothed over. */
function strongestNear(density: Float64Array, near: number): number {
  let best = near;
  for (let k = Math.max(0, near - 3); k <= Math.min(density.length - 1, near + 3); k++)
    if (density[k]! > density[best]!) best = k;
  return best;
}

/** A peak no wider than this is a tone, bins: the window's own width and a little scatter. */
const toneWidth = 1.8;
/** Half-power width of a line through a Hann window, bins (Harris 1978). */
const hannWidth = 1.44;

/** Solves the normal equations of c0 + c1·x + c2·x² from Σw·xᵖ (0…4) and Σw·y·xᵖ (0…2). */
function parabola(s: Float64Array): [number, number, number] | undefined {
  const [a, b, c, d, e] = [s[0]!, s[1]!, s[2]!, s[3]!, s[4]!];
  const det = (m: readonly number[]) =>
    m[0]! * (m[4]! * m[8]! - m[5]! * m[7]!) -
    m[1]! * (m[3]! * m[8]! - m[5]! * m[6]!) +
    m[2]! * (m[3]! * m[7]! - m[4]! * m[6]!);
  const [p, q, r] = [s[5]!, s[6]!, s[7]!];
  const whole = det([a, b, c, b, c, d, c, d, e]);
  if (!(Math.abs(whole) > 0)) return undefined;
  return [
    det([p, b, c, q, c, d, r, d, e]) / whole,
    det([a, p, c, b, q, d, c, r, e]) / whole,
    det([a, b, p, b, c, q, c, d, r]) / whole,
  ];
}

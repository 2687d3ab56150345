/**
 * Where the craft's own rate loop crosses a gain of 1, and its phase margin there, from what the pilot asked for and what the
 * gyro did. With r asked and y measured, the open loop is L = S_ry / (S_rr − S_ry): noise of the gyro that has nothing to do
 * with the stick averages out of both (instrumental variables, any text on identification in closed loop). A controller that
 * also feeds the stick forward makes it look faster than it is.
 */
import {axes, type Axis} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {crossSpectrum, type CrossSpectrum} from '../spectra/cross';
import {segmentStarts} from '../spectra/segments';
import {independentSegments} from '../spectra/welch';

/** Frequency at which delay matters to the control loop where no flight tells it, Hz: where quads of this class oscillate. */
const assumedCrossoverHz = 60;

/** Bounds hold 19 of 20 times. */
export interface Crossover {
  readonly kind: 'found';
  readonly axis: Axis;
  readonly hz: number;
  readonly boundHz: number;
  readonly marginDeg: number;
  readonly marginBoundDeg: number;
  /** Windows in which the stick moved quickly. */
  readonly windows: number;
}
export interface NoCrossover {
  readonly kind: 'none';
  /** A whole sentence. */
  readonly why: string;
}

/** Frequency at which a delay costs phase margin, Hz: of the craft's own loop where a flight tells it. */
export const crossoverHzOf = (crossover: Crossover | NoCrossover | undefined): number =>
  crossover?.kind === 'found' ? crossover.hz : assumedCrossoverHz;

/** "34.2 ± 1.2 Hz on roll, with 48 ± 3° of margin as flown, from 12 windows with stick steps". */
export function crossoverFigures({hz, boundHz, axis, marginDeg, marginBoundDeg, windows}: Crossover): string {
  const margin = `${marginDeg.toFixed(0)} ± ${marginBoundDeg.toFixed(0)}° of margin as flown`;
  return `${hz.toFixed(1)} ± ${boundHz.toFixed(1)} Hz on ${axis}, with ${margin}, from ${windows} windows with stick steps`;
}

/** Length of a window, s. */
const windowS = 0.5;
/** Least windows with quick sticks. */
const minWindows = 6;
/** Share of the liveliest window's power from which on a window counts. */
const lively = 0.1;
/** Where crossovers of multirotors lie, with room, Hz. */
const band = [8, 120] as const;
/** The largest bound that is still told, as a share. */
const widest = 0.25;
/** Filters of the log decide which gyro closes the loop: that behind them, where the log has it. */
const loopGyro = (log: FlightLog) => log.filteredGyro ?? log.gyro;

/** Of roll and pitch the axis that crosses higher: there a delay costs most. */
export function findCrossover(log: FlightLog): Crossover | NoCrossover {
  const {setpoint} = log;
  if (!setpoint) return none('the log has no record of the sticks');
  const each = axes.slice(0, 2).map((axis) => crossoverOf(axis, setpoint[axis], loopGyro(log)[axis], log));
  const found = each.filter((e) => e.kind === 'found');
  return found.length ? found.reduce((a, b) => (b.hz > a.hz ? b : a)) : each[0]!;
}

const none = (why: string): NoCrossover => ({kind: 'none', why});

function crossoverOf(
  axis: Axis,
  asked: Float32Array,
  gyro: Float32Array,
  {sampleRateHz, stretches}: FlightLog,
): Crossover | NoCrossover {
  const segment = 2 ** Math.round(Math.log2(windowS * sampleRateHz));
  const all = [...segmentStarts(stretches, {segment, hop: segment / 2})];
  const quick = all.map((at) => quickness(asked, at, segment));
  const most = quick.reduce((a, b) => Math.max(a, b), 0);
  const starts = all.filter((_, i) => quick[i]! > lively * most);
  if (!(most > 0) || starts.length < minWindows) return none('the stick made too few quick steps');
  const spectrum = crossSpectrum(asked, gyro, {sampleRateHz, segment, starts});
  const points = loopPoints(spectrum);
  const gain = closedGain(spectrum);
  if (gain < 0.7 || gain > 1.3)
    return none(`the gyro turned ${gain.toFixed(2)} times as fast as was asked: other units, or no rate loop`);
  const rough = roughCrossing(points);
  if (rough === undefined) return none('its loop does not cross a gain of 1 where the stick moves it');
  const near = points.filter((p) => p.hz > rough / 1.4 && p.hz < rough * 1.4);
  const magnitude = lineThrough(
    near.map((p) => ({x: Math.log(p.hz / rough), y: Math.log(p.gain), variance: p.variance})),
  );
  if (!(magnitude.slope < -0.2)) return none('its gain does not fall where it crosses 1');
  const shift = -magnitude.level / magnitude.slope;
  const share = (1.96 * magnitude.deviation) / -magnitude.slope;
  if (!(share < widest) || Math.abs(shift) > Math.log(1.4)) return none('the steps are too weak beside the noise');
  const phase = lineThrough(near.map((p) => ({x: Math.log(p.hz / rough), y: p.phase, variance: p.variance})));
  const hz = rough * Math.exp(shift);
  return {
    ...{kind: 'found', axis, hz, boundHz: hz * share, windows: starts.length},
    marginDeg: 180 + (180 / Math.PI) * (phase.level + phase.slope * shift),
    marginBoundDeg: (180 / Math.PI) * 1.96 * Math.hypot(phase.deviation, (phase.slope * share) / 1.96),
  };
}

/** Power of the sample-to-sample change: steps have it, slow flying does not. */
function quickness(values: Float32Array, at: number, length: number): number {
  let sum = 0;
  for (let i = at + 1; i < at + length; i++) sum += (values[i]! - values[i - 1]!) ** 2;
  return sum;
}

interface LoopPoint {
  readonly hz: number;
  readonly gain: number;
  /** Unwrapped from −90° on, rad. */
  readonly phase: number;
  /** Of the gain's logarithm and of the phase. */
  readonly variance: number;
}

/** The open loop, bin by bin, with how far the noise may have moved it. */
function loopPoints({stepHz, xx, yy, re, im, segments}: CrossSpectrum): LoopPoint[] {
  const independent = independentSegments(segments);
  const points: LoopPoint[] = [];
  let before = -Math.PI / 2;
  for (let k = Math.ceil(band[0] / stepHz); k * stepHz <= band[1] && k < xx.length; k++) {
    // e = r − y, so S_re = S_rr − S_ry.
    const [er, ei] = [xx[k]! - re[k]!, -im[k]!];
    const size = er * er + ei * ei;
    const [lr, li] = [(re[k]! * er + im[k]! * ei) / size, (im[k]! * er - re[k]! * ei) / size];
    const coherence = Math.min(0.9999, (re[k]! ** 2 + im[k]! ** 2) / (xx[k]! * yy[k]!));
    // dL/L = dT/(T·(1 − T)), and (1 − T) = S_re/S_rr.
    const variance = ((1 - coherence) / (2 * independent * coherence)) * (xx[k]! ** 2 / size);
    let phase = Math.atan2(li, lr);
    phase -= 2 * Math.PI * Math.round((phase - before) / (2 * Math.PI));
    before = phase;
    points.push({hz: k * stepHz, gain: Math.hypot(lr, li), phase, variance});
  }
  return points;
}

/** Gain from stick to gyro where the craft follows easily, up to 6 Hz: 1 where units agree. */
function closedGain({stepHz, xx, re}: CrossSpectrum): number {
  let [sum, total] = [0, 0];
  for (let k = 1; k * stepHz <= 6; k++) [sum, total] = [sum + re[k]!, total + xx[k]!];
  return sum / total;
}

/** The highest frequency below which the smoothed gain is above 1 and above which it is below. */
function roughCrossing(points: readonly LoopPoint[]): number | undefined {
  const smooth = points.map((_, i) => {
    const near = points.slice(Math.max(0, i - 2), i + 3);
    return near.reduce((sum, p) => sum + Math.log(p.gain), 0) / near.length;
  });
  // Far up there is only noise: the first crossing that three bins in a row hold.
  const at = smooth.findIndex(
    (g, i) => i > 0 && smooth[i - 1]! >= 0 && g < 0 && (smooth[i + 1] ?? -1) < 0 && (smooth[i + 2] ?? -1) < 0,
  );
  return at < 0 ? undefined : points[at]!.hz;
}

interface Measured {
  readonly x: number;
  readonly y: number;
  readonly variance: number;
}

/** Straight line by weighted least squares; `deviation` is that of its level, by the weights or by the scatter, the larger. */
function lineThrough(points: readonly Measured[]): {level: number; slope: number; deviation: number} {
  let [w, wx, wy, wxx, wxy] = [0, 0, 0, 0, 0];
  for (const {x, y, variance} of points) {
    const weight = 1 / Math.max(1e-6, variance);
    [w, wx, wy, wxx, wxy] = [w + weight, wx + weight * x, wy + weight * y, wxx + weight * x * x, wxy + weight * x * y];
  }
  const det = w * wxx - wx * wx;
  const slope = (w * wxy - wx * wy) / det;
  const level = (wy - slope * wx) / w;
  const misfit = points.reduce((s, p) => s + (p.y - level - slope * p.x) ** 2 / Math.max(1e-6, p.variance), 0);
  const scatter = Math.max(1, misfit / Math.max(1, points.length - 2));
  return {level, slope, deviation: Math.sqrt((wxx / det) * scatter)};
}

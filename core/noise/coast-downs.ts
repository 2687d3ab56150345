/** How fast each motor falls in flight after the throttle is cut: time for 63 % of its way to the speed it falls to. */
import type {FlightLog} from '../flight/flight-log';
import {cholesky, solve} from '../numbers/cholesky';
import type {MotorSpeeds} from './tracking/motor-speeds';

export interface CoastDown {
  /** Median over the cuts, s. */
  readonly seconds: number;
  /** Half of the spread between the quartiles over the cuts, s; 0 for one cut. */
  readonly spread: number;
  readonly cuts: number;
}

/** A cut: the mean speed, or the throttle, falls by so much of itself within this time. */
const cutShare = 0.3;
const cutS = 0.15;
/** A fall is followed for so long, s. */
const followS = 0.6;
/** Cuts closer to each other are one, s. */
const apartS = 0.5;

/** One per motor; undefined where the flight has no cut that it follows. */
export function coastDowns(log: FlightLog, {hz}: MotorSpeeds): (CoastDown | undefined)[] {
  const cuts = cutsOf(log, hz);
  return hz.map((speed) => {
    const times = cuts.flatMap((at) => fallTime(speed, at, log.sampleRateHz) ?? []).sort((a, b) => a - b);
    if (!times.length) return undefined;
    const at = (share: number) => times[Math.min(times.length - 1, Math.floor(share * times.length))]!;
    return {seconds: at(0.5), spread: (at(0.75) - at(0.25)) / 2, cuts: times.length};
  });
}

/** Samples at which throttle is cut; where the log has no throttle, at which all motors begin to fall together. */
function cutsOf(log: FlightLog, hz: readonly Float32Array[]): number[] {
  const window = Math.max(2, Math.round(cutS * log.sampleRateHz));
  const step = Math.max(1, Math.round(0.004 * log.sampleRateHz));
  const cuts: number[] = [];
  const value = (i: number) => log.throttle?.[i] ?? hz.reduce((sum, speed) => sum + speed[i]!, 0) / hz.length;
  if (!hz.length && !log.throttle) return [];
  for (const {start, end} of log.stretches)
    for (let i = start; i + window < end; i += step) {
      const [before, after] = [value(i), value(i + window)];
      if (!(before > 15) || after > before * (1 - cutShare)) continue;
      if (cuts.length && i - cuts.at(-1)! < apartS * log.sampleRateHz) continue;
      cuts.push(beginOf(value, i, i + window));
    }
  return cuts;
}

/** Where in a falling window the fall begins: the last sample above 90 % of its height. */
function beginOf(value: (i: number) => number, from: number, to: number): number {
  const [high, low] = [value(from), value(to)];
  let at = from;
  for (let i = from; i < to; i++) if (value(i) > low + 0.9 * (high - low)) at = i;
  return at;
}

/** A fall begins to be fitted so long after the cut: replies come late, s. */
const lateS = 0.008;
/** Time constants that are tried, s: from a tiny motor that brakes to a large one that coasts. */
const constants = Array.from({length: 60}, (_, i) => 0.006 * 1.08 ** i);

/**
 * Time constant of a fall: the exponential that fits it best, over a line for what throttle does meanwhile. Undefined where
 * the motor did not fall, or no constant fits.
 */
function fallTime(speed: Float32Array, at: number, sampleRateHz: number): number | undefined {
  const from = at + Math.round(lateS * sampleRateHz);
  const end = lastOfFall(speed, from, Math.min(speed.length, at + Math.round(followS * sampleRateHz)));
  const high = speed[at]!;
  if (!(high > 0) || end - from < 12 || speed[end - 1]! > high * (1 - cutShare / 2)) return undefined;
  const step = Math.max(1, Math.floor((end - from) / 200));
  const points: {t: number; y: number}[] = [];
  for (let i = from; i < end; i += step) points.push({t: (i - from) / sampleRateHz, y: speed[i]!});
  const errors = constants.map((tau) => errorOf(points, tau));
  const best = errors.reduce((b, e, i) => (e < errors[b]! ? i : b), 0);
  if (best === 0 || best === constants.length - 1) return undefined;
  const [a, b, c] = [errors[best - 1]!, errors[best]!, errors[best + 1]!];
  return constants[best]! * 1.08 ** ((0.5 * (a - c)) / (a - 2 * b + c));
}

/** The sample at which a motor is driven up again: where it stands a tenth above its lowest so far. */
function lastOfFall(speed: Float32Array, from: number, end: number): number {
  let low = Infinity;
  for (let i = from; i < end; i++) {
    low = Math.min(low, speed[i]!);
    if (speed[i]! > 1.1 * low + 1) return i;
  }
  return end;
}

/** Sum of squares that a + c·t + b·e^(−t/τ) leaves of the points, by its three normal equations. */
function errorOf(points: readonly {readonly t: number; readonly y: number}[], tau: number): number {
  const matrix = new Float64Array(9);
  const right = new Float64Array(3);
  let total = 0;
  for (const {t, y} of points) {
    const row = [1, t, Math.exp(-t / tau)];
    for (let i = 0; i < 3; i++) {
      right[i]! += row[i]! * y;
      for (let j = 0; j < 3; j++) matrix[3 * i + j]! += row[i]! * row[j]!;
    }
    total += y * y;
  }
  const factor = cholesky(matrix, 3);
  if (!factor) return Infinity;
  const x = solve(factor, 3, right);
  return total - x[0]! * right[0]! - x[1]! * right[1]! - x[2]! * right[2]!;
}

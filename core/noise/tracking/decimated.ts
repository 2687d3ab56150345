/**
 * A log at a lower rate that still holds every line that is looked for: a fit of lines costs as many operations as there are
 * samples. The gyro goes through a linear-phase low-pass first, flat within 0.1 % up to the highest line.
 */
import {axes, type Axis} from '../../flight/mapping';
import type {FlightLog} from '../../flight/flight-log';

/** What a fit of lines looks at. */
export type LineLog = Pick<FlightLog, 'sampleRateHz' | 'samples' | 'stretches' | 'gyro' | 'damage'>;

export interface Decimated {
  readonly log: LineLog;
  readonly hz: readonly Float32Array[];
}

/** The lower rate is at least so many times the highest line, so that the low-pass has room to fall. */
const room = 2.5;
/** Kaiser's window for 60 dB of ripple and of what folds down (Kaiser 1974): its shape, and taps to either side per factor. */
const beta = 5.65;
const halfTaps = 9;

/** The log itself where no lower rate holds the lines, or where it is damaged: a low-pass would spread what is missing. */
export function decimated(log: LineLog, hz: readonly Float32Array[], highestOrder: number): Decimated {
  const highestHz = highestOrder * hz.reduce((most, speed) => Math.max(most, highest(speed)), 0);
  const factor = highestHz > 0 ? Math.floor(log.sampleRateHz / (room * highestHz)) : 1;
  if (factor < 2 || log.damage) return {log, hz};
  const stretches = log.stretches.map(({start, end, atS}) => ({
    ...{start: Math.ceil(start / factor), end: Math.floor((end - 1) / factor) + 1, atS},
  }));
  const samples = stretches.at(-1)!.end;
  const taps = lowPassTaps(factor);
  const gyro = Object.fromEntries(
    axes.map((axis) => [axis, thinned(log.gyro[axis], log.stretches, {factor, samples, taps})]),
  ) as Record<Axis, Float32Array>;
  return {
    log: {sampleRateHz: log.sampleRateHz / factor, samples, stretches, gyro, damage: undefined},
    hz: hz.map((speed) => thinned(speed, log.stretches, {factor, samples, taps: meanTaps(factor)})),
  };
}

function highest(speed: Float32Array): number {
  let most = 0;
  for (const v of speed) if (v > most) most = v;
  return most;
}

interface Thinning {
  readonly factor: number;
  readonly samples: number;
  /** From the middle on; symmetric. */
  readonly taps: Float64Array;
}

function thinned(
  signal: Float32Array,
  stretches: LineLog['stretches'],
  {factor, samples, taps}: Thinning,
): Float32Array {
  const out = new Float32Array(samples);
  for (const {start, end} of stretches) {
    const at = (i: number) => signal[Math.min(end - 1, Math.max(start, i))]!;
    for (let k = Math.ceil(start / factor); k * factor < end && k < samples; k++) {
      const middle = k * factor;
      let sum = taps[0]! * signal[middle]!;
      if (middle - taps.length >= start && middle + taps.length < end)
        for (let t = 1; t < taps.length; t++) sum += taps[t]! * (signal[middle - t]! + signal[middle + t]!);
      else for (let t = 1; t < taps.length; t++) sum += taps[t]! * (at(middle - t) + at(middle + t));
      out[k] = sum;
    }
  }
  return out;
}

/** A sinc that falls to a half at half the lower rate, under Kaiser's window; its sum is 1. */
function lowPassTaps(factor: number): Float64Array {
  const reach = halfTaps * factor;
  const taps = Float64Array.from({length: reach + 1}, (_, t) => {
    const x = t / factor;
    const sinc = t ? Math.sin(Math.PI * x) / (Math.PI * x) : 1;
    return sinc * besselI0(beta * Math.sqrt(1 - (t / (reach + 1)) ** 2));
  });
  return scaled(taps);
}

/** A mean over one sample of the lower rate. */
const meanTaps = (factor: number): Float64Array => scaled(new Float64Array((factor >> 1) + 1).fill(1));

function scaled(taps: Float64Array): Float64Array {
  const sum = taps.reduce((all, v, t) => all + (t ? 2 * v : v), 0);
  return taps.map((v) => v / sum);
}

/** Modified Bessel function of the first kind, order 0, by its power series. */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

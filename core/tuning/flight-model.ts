/**
 * A flight boiled down to what filters act on: the power of every axis in moments spread over it, with the speeds and the
 * throttle that following filters see there. A forecast multiplies it by |H|², so that a plan's edit costs milliseconds
 * however long the flight is.
 */
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {meanOf} from '../spectra/noise-map';
import {Periodogram} from '../spectra/periodogram';
import {segmentStarts} from '../spectra/segments';
import type {MomentState} from '../filters/chain';

export interface FlightModel {
  readonly sampleRateHz: number;
  readonly stepHz: number;
  readonly bins: number;
  readonly moments: readonly ModelMoment[];
  /** Samples of one moment. */
  readonly length: number;
}

export interface ModelMoment extends MomentState {
  readonly at: number;
  /** How fast each motor's speed climbs in it, Hz/s. */
  readonly motorsHzPerS: readonly number[];
  /** Density of roll, pitch, yaw, (deg/s)²/Hz. */
  readonly power: readonly Float64Array[];
  /** The same half a moment earlier: where a moving notch has looked, for it is late by that. */
  readonly earlier: readonly Float64Array[];
}

/** Length of a moment, s: bins of 8 Hz, in which no notch is narrow. */
const momentS = 0.128;
/** Moments kept: their mean is within a tenth of a decibel of that of all. */
const maxMoments = 600;

/** @param motorsHz revolutions per second of each motor. */
export function flightModel(log: FlightLog, motorsHz: readonly Float32Array[], most = maxMoments): FlightModel {
  const length = 2 ** Math.round(Math.log2(momentS * log.sampleRateHz));
  const periodogram = new Periodogram(length, log.sampleRateHz);
  const starts = segmentStarts(log.stretches, {segment: length, hop: length / 2});
  const stride = Math.max(1, starts.length / most);
  const moments: ModelMoment[] = [];
  const densities = (at: number) =>
    axes.map((axis) => {
      const density = new Float64Array(periodogram.bins);
      periodogram.accumulate(log.gyro[axis], at, density);
      return density;
    });
  for (let s = 0; s < starts.length; s += stride) {
    const i = Math.floor(s);
    const at = starts[i]!;
    const power = densities(at);
    const isPart = i > 0 && starts[i - 1] === at - length / 2;
    moments.push({
      ...{at, power},
      earlier: isPart ? densities(starts[i - 1]!) : power,
      motorsHz: motorsHz.map((hz) => meanOf(hz, at, length)),
      motorsHzPerS: motorsHz.map((hz) => slopeOf(hz, at, length) * log.sampleRateHz),
      throttle: log.throttle ? meanOf(log.throttle, at, length) : 0,
    });
  }
  return {sampleRateHz: log.sampleRateHz, stepHz: periodogram.stepHz, bins: periodogram.bins, moments, length};
}

/** Mean climb from sample to sample: between the means of both halves. Zero where a speed is missing in one of them. */
function slopeOf(hz: Float32Array, at: number, length: number): number {
  const half = length / 2;
  const [first, second] = [meanOf(hz, at, half), meanOf(hz, at + half, half)];
  return first > 0 && second > 0 ? (second - first) / half : 0;
}

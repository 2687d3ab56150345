/** Mean spectra in bands of throttle: where noise lies over throttle. */
import type {Axis, FlightLog} from './flight-log';
import {Periodogram} from './welch';

export interface Spectrogram {
  readonly stepHz: number;
  /** Throttle bands of equal width from 0 to 100 %. */
  readonly bands: number;
  readonly bins: number;
  /** Row-major, `bands × bins`, density in (deg/s)²/Hz; NaN where no segment fell into the band. */
  readonly density: Float64Array;
}

/** Each segment counts for the band of its mean throttle. `gyro` defaults to the axis as flown. */
export function throttleSpectrogram(
  log: FlightLog,
  axis: Axis,
  {bands = 40, segment = 256, gyro = log.gyro[axis]}: {bands?: number; segment?: number; gyro?: Float64Array} = {},
): Spectrogram {
  const periodogram = new Periodogram(segment, log.sampleRateHz);
  const bins = segment / 2 + 1;
  const density = new Float64Array(bands * bins);
  const count = new Uint32Array(bands);
  for (let at = 0; at + segment <= gyro.length; at += segment / 4) {
    let throttle = 0;
    for (let i = 0; i < segment; i++) throttle += log.throttle[at + i]!;
    const band = Math.min(bands - 1, Math.max(0, Math.floor((throttle / segment / 100) * bands)));
    periodogram.accumulate(gyro, at, density.subarray(band * bins, (band + 1) * bins));
    count[band]!++;
  }
  for (let band = 0; band < bands; band++)
    for (let k = 0; k < bins; k++)
      density[band * bins + k] = count[band] ? density[band * bins + k]! / count[band]! : NaN;
  return {stepHz: log.sampleRateHz / segment, bands, bins, density};
}

/** Mean rotation frequency in Hz of one motor in each throttle band; NaN where the flight has none. */
export function speedOverThrottle(log: FlightLog, hz: Float64Array, bands = 40): Float64Array {
  const sum = new Float64Array(bands);
  const count = new Uint32Array(bands);
  for (let i = 0; i < hz.length; i++) {
    const band = Math.min(bands - 1, Math.max(0, Math.floor((log.throttle[i]! / 100) * bands)));
    sum[band]! += hz[i]!;
    count[band]!++;
  }
  return sum.map((s, band) => (count[band] ? s / count[band] : NaN));
}

/** Motor-speed notches run over a recorded gyro: the spectrum they would have left. */
import {lowPass, notch, type Biquad} from './biquad';

export interface NotchBank {
  readonly harmonics: readonly number[];
  readonly q: number;
  /** A notch does not go below this frequency, Hz. */
  readonly minHz: number;
}

/** Frequency a notch sits at for a motor at `hz`; undefined where it would pass 95 % of half the sample rate. */
export function notchHz(bank: NotchBank, hz: number, harmonic: number, sampleRateHz: number): number | undefined {
  const wanted = Math.max(bank.minHz, hz * harmonic);
  return wanted < 0.475 * sampleRateHz ? wanted : undefined;
}

/** Samples between two updates of the notch frequencies; speeds change little in that time. */
const updateEvery = 8;

/**
 * Fresh filtered copy of `gyro`. `motorsHz` holds each motor's rotation frequency per sample.
 * Direct form 1: its state is of the signal, so changing coefficients does not click.
 */
export function applyNotches(
  gyro: Float64Array,
  motorsHz: readonly Float64Array[],
  bank: NotchBank,
  sampleRateHz: number,
): Float64Array {
  let signal = gyro;
  for (const hz of motorsHz)
    for (const harmonic of bank.harmonics)
      signal = runFilter(signal, (i) => {
        const centre = notchHz(bank, hz[i]!, harmonic, sampleRateHz);
        return centre === undefined ? undefined : notch(centre, bank.q, sampleRateHz);
      });
  return signal === gyro ? gyro.slice() : signal;
}

/** Fresh copy of `signal` through a second-order Butterworth low-pass. */
export function applyLowPass(signal: Float64Array, hz: number, sampleRateHz: number): Float64Array {
  if (hz >= sampleRateHz / 2) return signal.slice();
  const filter = lowPass(hz, Math.SQRT1_2, sampleRateHz);
  return runFilter(signal, () => filter);
}

/** Fresh copy of `signal` through a filter that may change; undefined lets the signal pass. */
export function runFilter(signal: Float64Array, at: (sample: number) => Biquad | undefined): Float64Array {
  const out = new Float64Array(signal.length);
  let filter: Biquad | undefined;
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let i = 0; i < signal.length; i++) {
    if (i % updateEvery === 0) filter = at(i);
    const x = signal[i]!;
    const y = filter ? filter.b0 * x + filter.b1 * x1 + filter.b2 * x2 - filter.a1 * y1 - filter.a2 * y2 : x;
    [x2, x1, y2, y1] = [x1, x, y1, y];
    out[i] = y;
  }
  return out;
}

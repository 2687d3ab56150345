/** Cross-spectral density of two signals after Welch (1967): Hann window, half overlap, never across a break of the log. */
import FFT from 'fft.js';
import {meanOf} from './noise-map';
import {hann, type Samples} from './periodogram';

export interface CrossSpectrum {
  readonly stepHz: number;
  /** One-sided densities of both, and of conj(X)·Y: unit²/Hz. */
  readonly xx: Float64Array;
  readonly yy: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly segments: number;
}

interface CrossQuestion {
  readonly sampleRateHz: number;
  /** Power of two. */
  readonly segment: number;
  /** First samples of the segments. */
  readonly starts: readonly number[];
}

/** Throws without a segment. */
export function crossSpectrum(
  x: Samples,
  y: Samples,
  {sampleRateHz, segment: n, starts}: CrossQuestion,
): CrossSpectrum {
  if (!starts.length) throw new RangeError('A cross-spectrum takes at least one segment');
  const fft = new FFT(n);
  const window = hann(n);
  const [input, output] = [fft.createComplexArray(), fft.createComplexArray()];
  const half = n / 2;
  const sums = {xx: new Float64Array(half + 1), yy: new Float64Array(half + 1)};
  const cross = {re: new Float64Array(half + 1), im: new Float64Array(half + 1)};
  const power = window.reduce((sum, w) => sum + w * w, 0);
  for (const at of starts) {
    const [meanX, meanY] = [meanOf(x, at, n), meanOf(y, at, n)];
    for (let i = 0; i < n; i++) {
      input[2 * i] = (x[at + i]! - meanX) * window[i]!;
      input[2 * i + 1] = (y[at + i]! - meanY) * window[i]!;
    }
    fft.transform(output, input);
    for (let k = 0; k <= half; k++) {
      const scale = (k === 0 || k === half ? 1 : 2) / (sampleRateHz * power * starts.length);
      const [a, b] = [2 * k, 2 * ((n - k) % n)];
      // The two halves of one transform: X = (Z[k] + Z*[N−k])/2, Y = (Z[k] − Z*[N−k])/2i.
      const [xr, xi] = [(output[a]! + output[b]!) / 2, (output[a + 1]! - output[b + 1]!) / 2];
      const [yr, yi] = [(output[a + 1]! + output[b + 1]!) / 2, (output[b]! - output[a]!) / 2];
      sums.xx[k]! += scale * (xr * xr + xi * xi);
      sums.yy[k]! += scale * (yr * yr + yi * yi);
      cross.re[k]! += scale * (xr * yr + xi * yi);
      cross.im[k]! += scale * (xr * yi - xi * yr);
    }
  }
  return {stepHz: sampleRateHz / n, segments: starts.length, ...sums, ...cross};
}

/** Power spectral density after Welch (1967) with a periodic Hann window and half overlap. */
import FFT from 'fft.js';

export interface Spectrum {
  /** Frequency of bin k is k · stepHz. */
  readonly stepHz: number;
  /** One-sided density, unit²/Hz. */
  readonly density: Float64Array;
  readonly segments: number;
}

/** Periodic Hann window: equivalent noise bandwidth 1.5 bins, coherent gain 0.5 (Harris 1978). */
export function hann(length: number): Float64Array {
  return Float64Array.from({length}, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length));
}

/** Computes densities of segments of one length; keeps its tables, so make one and use it often. */
export class Periodogram {
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly scale: number;
  private readonly input: Float64Array;
  private readonly output: number[];

  /** @param length power of two. */
  constructor(
    readonly length: number,
    readonly sampleRateHz: number,
  ) {
    this.fft = new FFT(length);
    this.window = hann(length);
    this.scale = 1 / (sampleRateHz * this.window.reduce((sum, w) => sum + w * w, 0));
    this.input = new Float64Array(length);
    this.output = this.fft.createComplexArray();
  }

  /** Adds the one-sided density of `signal[at … at+length)` to `sum`, the segment's mean removed. */
  accumulate(signal: Float64Array, at: number, sum: Float64Array): void {
    const n = this.length;
    let mean = 0;
    for (let i = 0; i < n; i++) mean += signal[at + i]!;
    mean /= n;
    for (let i = 0; i < n; i++) this.input[i] = (signal[at + i]! - mean) * this.window[i]!;
    this.fft.realTransform(this.output, this.input);
    for (let k = 0; k <= n / 2; k++) {
      const [re, im] = [this.output[2 * k]!, this.output[2 * k + 1]!];
      const twice = k === 0 || k === n / 2 ? 1 : 2;
      sum[k]! += twice * this.scale * (re * re + im * im);
    }
  }
}

/** Welch's estimate of a whole signal. Throws when it is shorter than one segment. */
export function welch(signal: Float64Array, sampleRateHz: number, segment: number): Spectrum {
  if (signal.length < segment) throw new RangeError(`${signal.length} samples are less than one segment of ${segment}`);
  const periodogram = new Periodogram(segment, sampleRateHz);
  const density = new Float64Array(segment / 2 + 1);
  let segments = 0;
  for (let at = 0; at + segment <= signal.length; at += segment / 2) {
    periodogram.accumulate(signal, at, density);
    segments++;
  }
  for (let k = 0; k < density.length; k++) density[k]! /= segments;
  return {stepHz: sampleRateHz / segment, density, segments};
}

export const decibels = (density: number): number => 10 * Math.log10(Math.max(density, 1e-30));

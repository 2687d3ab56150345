/** One-sided power densities of windowed segments, two at a time: a real signal in each half of one complex transform. */
import FFT from 'fft.js';

export type Samples = Float32Array | Float64Array;

/** Periodic Hann window: equivalent noise bandwidth 1.5 bins, coherent gain 0.5 (Harris 1978). */
export function hann(length: number): Float64Array {
  return Float64Array.from({length}, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length));
}

/** A segment of a signal, and the row that its density is added to. */
export interface SegmentJob {
  readonly signal: Samples;
  readonly at: number;
  readonly sum: Float64Array;
  /** Where the row begins in `sum`. */
  readonly offset: number;
}

/** Computes densities of segments of one length; keeps its tables, so make one and use it often. */
export class Periodogram {
  private readonly fft: FFT;
  // Plain arrays of doubles: fft.js takes twice the time on typed ones (Node 20).
  private readonly input: number[];
  private readonly output: number[];
  private readonly window: Float64Array;
  private readonly scale: number;
  readonly bins: number;

  /** @param length power of two. */
  constructor(
    readonly length: number,
    readonly sampleRateHz: number,
  ) {
    this.fft = new FFT(length);
    this.input = this.fft.createComplexArray();
    this.output = this.fft.createComplexArray();
    this.window = hann(length);
    this.scale = 1 / (sampleRateHz * this.window.reduce((sum, w) => sum + w * w, 0));
    this.bins = length / 2 + 1;
  }

  /** Hz from bin to bin. */
  get stepHz(): number {
    return this.sampleRateHz / this.length;
  }

  /** Adds the density of `signal[at … at+length)` to `sum`, unit²/Hz, the segment's mean removed. */
  accumulate(signal: Samples, at: number, sum: Float64Array): void {
    const job = {signal, at, sum, offset: 0};
    this.accumulatePair(job, undefined);
  }

  /** Adds the densities of two segments at the price of one. */
  accumulatePair(a: SegmentJob, b: SegmentJob | undefined): void {
    const {fft, length: n} = this;
    const {input, output} = this;
    load(a, this.window, input, 0);
    if (b) load(b, this.window, input, 1);
    else for (let i = 1; i < 2 * n; i += 2) input[i] = 0;
    fft.transform(output, input);
    const quarter = this.scale / 4;
    for (let k = 0; k < this.bins; k++) {
      const other = k === 0 ? 0 : n - k;
      const zr = output[2 * k]!;
      const zi = output[2 * k + 1]!;
      const wr = output[2 * other]!;
      const wi = output[2 * other + 1]!;
      const once = k === 0 || k === n / 2 ? quarter : 2 * quarter;
      const ar = zr + wr;
      const ai = zi - wi;
      a.sum[a.offset + k]! += once * (ar * ar + ai * ai);
      if (b) {
        const br = zi + wi;
        const bi = wr - zr;
        b.sum[b.offset + k]! += once * (br * br + bi * bi);
      }
    }
  }
}

/** Writes a windowed segment to the real (0) or imaginary (1) places of `out`. */
function load({signal, at}: SegmentJob, window: Float64Array, out: number[], part: 0 | 1): void {
  const n = window.length;
  let mean = 0;
  for (let i = 0; i < n; i++) mean += signal[at + i]!;
  mean /= n;
  for (let i = 0; i < n; i++) out[2 * i + part] = (signal[at + i]! - mean) * window[i]!;
}

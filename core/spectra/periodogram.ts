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

  /**
   * @param length samples of a segment.
   * @param size of the transform, a power of two, at least as long: zeros follow the segment. Bins lie closer then; what
   *   they can tell apart stays the segment's.
   */
  constructor(
    readonly length: number,
    readonly sampleRateHz: number,
    readonly size = length,
  ) {
    this.fft = new FFT(size);
    this.input = this.fft.createComplexArray();
    this.output = this.fft.createComplexArray();
    this.window = hann(length);
    this.scale = 1 / (sampleRateHz * this.window.reduce((sum, w) => sum + w * w, 0));
    this.bins = size / 2 + 1;
  }

  /** Hz from bin to bin. */
  get stepHz(): number {
    return this.sampleRateHz / this.size;
  }

  /** Adds the density of `signal[at … at+length)` to `sum`, unit²/Hz, the segment's mean removed. */
  accumulate(signal: Samples, at: number, sum: Float64Array): void {
    const job = {signal, at, sum, offset: 0};
    this.accumulatePair(job, undefined);
  }

  /** Adds the densities of two segments at the price of one. */
  accumulatePair(a: SegmentJob, b: SegmentJob | undefined): void {
    const {fft, size: n} = this;
    const {input, output} = this;
    load(a, this.window, input, 0);
    if (b) load(b, this.window, input, 1);
    else for (let i = 1; i < 2 * n; i += 2) input[i] = 0;
    fft.transform(output, input);
    const quarter = this.scale / 4;
    if (b) split(output, {length: n, quarter}, a, b);
    else whole(output, {length: n, quarter}, a);
  }
}

interface Scale {
  readonly length: number;
  /** A quarter of what |X|² is multiplied with for a density. */
  readonly quarter: number;
}

/** The two halves of one transform: X₁ = (Z[k] + Z*[N−k])/2, X₂ = (Z[k] − Z*[N−k])/2i. The inner loop of every map. */
function split(output: readonly number[], {length, quarter}: Scale, a: SegmentJob, b: SegmentJob): void {
  const [sumA, sumB, atA, atB] = [a.sum, b.sum, a.offset, b.offset];
  const half = length / 2;
  const twice = 2 * quarter;
  for (let k = 1, z = 2, w = 2 * length - 2; k < half; k++, z += 2, w -= 2) {
    const zr = output[z]!;
    const zi = output[z + 1]!;
    const wr = output[w]!;
    const wi = output[w + 1]!;
    const ar = zr + wr;
    const ai = zi - wi;
    const br = zi + wi;
    const bi = wr - zr;
    sumA[atA + k]! += twice * (ar * ar + ai * ai);
    sumB[atB + k]! += twice * (br * br + bi * bi);
  }
  for (const k of [0, half]) {
    sumA[atA + k]! += 4 * quarter * output[2 * k]! ** 2;
    sumB[atB + k]! += 4 * quarter * output[2 * k + 1]! ** 2;
  }
}

/** One signal alone: its transform is its own. */
function whole(output: readonly number[], {length, quarter}: Scale, {sum, offset}: SegmentJob): void {
  const half = length / 2;
  for (let k = 0; k <= half; k++) {
    const re = output[2 * k]!;
    const im = output[2 * k + 1]!;
    sum[offset + k]! += (k === 0 || k === half ? 4 : 8) * quarter * (re * re + im * im);
  }
}

/** Writes a windowed segment to the real (0) or imaginary (1) places of `out`. */
function load({signal, at}: SegmentJob, window: Float64Array, out: number[], part: 0 | 1): void {
  const n = window.length;
  let mean = 0;
  for (let i = at; i < at + n; i++) mean += signal[i]!;
  mean /= n;
  for (let i = 0, o = part as number; i < n; i++, o += 2) out[o] = (signal[at + i]! - mean) * window[i]!;
  for (let o = 2 * n + part; o < out.length; o += 2) out[o] = 0;
}

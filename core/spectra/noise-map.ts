/** Mean spectra in rows: over throttle, over time, over the speed of one motor. */
import {Periodogram, type Samples, type SegmentJob} from './periodogram';
import {segmentStarts, type Part} from './segments';

export interface NoiseMap {
  /** Hz from column to column, or multiples of motor speed. */
  readonly stepX: number;
  readonly columns: number;
  readonly rows: number;
  /** Values of the rows' lower edge and upper edge: row r spans `from + r·stepY`. */
  readonly from: number;
  readonly stepY: number;
  /** Row-major, `rows × columns`, density in unit²/Hz; NaN where no segment fell into the row. */
  readonly density: Float64Array;
  /** Segments in each row. */
  readonly counts: Uint32Array;
}

export interface MapOptions {
  readonly sampleRateHz: number;
  /** Power of two. */
  readonly segment: number;
  /** Samples from segment to segment. */
  readonly hop: number;
  readonly parts: readonly Part[];
  readonly rows: number;
  readonly from: number;
  readonly to: number;
  /** What a segment counts for; NaN leaves it out. */
  readonly valueAt: (at: number) => number;
}

/** One map for each signal, of the same segments. */
export function noiseMaps(signals: readonly Samples[], o: MapOptions): NoiseMap[] {
  const periodogram = new Periodogram(o.segment, o.sampleRateHz);
  const {bins} = periodogram;
  const counts = new Uint32Array(o.rows);
  const sums = signals.map(() => new Float64Array(o.rows * bins));
  let waiting: SegmentJob | undefined;
  for (const at of segmentStarts(o.parts, o)) {
    const row = rowOf(o.valueAt(at), o);
    if (row < 0) continue;
    counts[row]!++;
    for (let s = 0; s < signals.length; s++) {
      const job = {signal: signals[s]!, at, sum: sums[s]!, offset: row * bins};
      if (waiting) {
        periodogram.accumulatePair(waiting, job);
        waiting = undefined;
      } else waiting = job;
    }
  }
  if (waiting) periodogram.accumulatePair(waiting, undefined);
  return sums.map((density) => {
    for (let row = 0; row < o.rows; row++)
      for (let k = 0; k < bins; k++)
        density[row * bins + k] = counts[row]! > 0 ? density[row * bins + k]! / counts[row]! : NaN;
    return {
      ...{density, counts, rows: o.rows, from: o.from},
      stepX: periodogram.stepHz,
      columns: bins,
      stepY: (o.to - o.from) / o.rows,
    };
  });
}

/** Row of a value; the edges belong to the outer rows, and a value outside is left out. */
export function rowOf(value: number, {rows, from, to}: Pick<MapOptions, 'rows' | 'from' | 'to'>): number {
  if (!(value >= from && value <= to)) return -1;
  return Math.min(rows - 1, Math.floor(((value - from) / (to - from)) * rows));
}

/** Mean of `values[at … at+length)`. */
export function meanOf(values: Samples, at: number, length: number): number {
  let sum = 0;
  for (let i = at; i < at + length; i++) sum += values[i]!;
  return sum / length;
}

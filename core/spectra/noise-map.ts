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

interface MapOptions {
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
  return meanRows([sumRows(signals, rowJob(o))], o);
}

/** Which segments are summed into which rows. */
export interface RowJob {
  readonly sampleRateHz: number;
  readonly segment: number;
  readonly rows: number;
  /** First sample of each segment. */
  readonly starts: Int32Array;
  /** Row of each segment. */
  readonly rowOf: Int32Array;
}

export interface RowSums {
  /** One for each signal, `rows × bins`. */
  readonly sums: readonly Float64Array[];
  readonly counts: Uint32Array;
}

/** The segments of a map that count for something. */
export function rowJob(o: MapOptions): RowJob {
  const all = segmentStarts(o.parts, o);
  const rows = all.map((at) => rowOf(o.valueAt(at), o));
  const used = rows.map((row, i) => (row < 0 ? -1 : i)).filter((i) => i >= 0);
  const {sampleRateHz, segment} = o;
  return {sampleRateHz, segment, rows: o.rows, starts: used.map((i) => all[i]!), rowOf: used.map((i) => rows[i]!)};
}

/** The two halves of a job, to be summed side by side. Samples of the second begin at its own first one. */
export function halved(job: RowJob): {first: RowJob; second: RowJob; from: number; to: number} {
  const middle = job.starts.length >> 1;
  const part = (from: number, to: number) => ({
    ...{...job, starts: job.starts.subarray(from, to), rowOf: job.rowOf.subarray(from, to)},
  });
  const second = part(middle, job.starts.length);
  const from = second.starts[0] ?? 0;
  return {
    ...{first: part(0, middle), from, to: (job.starts.at(-1) ?? 0) + job.segment},
    second: {...second, rowOf: second.rowOf.slice(), starts: second.starts.map((at) => at - from)},
  };
}

/** Sums of the densities in each row. */
export function sumRows(
  signals: readonly Samples[],
  {sampleRateHz, segment, rows, starts, rowOf: of}: RowJob,
): RowSums {
  const periodogram = new Periodogram(segment, sampleRateHz);
  const {bins} = periodogram;
  const counts = new Uint32Array(rows);
  const sums = signals.map(() => new Float64Array(rows * bins));
  let waiting: SegmentJob | undefined;
  for (let i = 0; i < starts.length; i++) {
    counts[of[i]!]!++;
    for (let s = 0; s < signals.length; s++) {
      const job = {signal: signals[s]!, at: starts[i]!, sum: sums[s]!, offset: of[i]! * bins};
      if (waiting) {
        periodogram.accumulatePair(waiting, job);
        waiting = undefined;
      } else waiting = job;
    }
  }
  if (waiting) periodogram.accumulatePair(waiting, undefined);
  return {sums, counts};
}

/** Maps of sums that were made side by side; the first ones are used up. */
export function meanRows(
  [first, ...more]: readonly RowSums[],
  o: Omit<MapOptions, 'valueAt' | 'parts' | 'hop'>,
): NoiseMap[] {
  const bins = o.segment / 2 + 1;
  const counts = first!.counts.map((n, row) => more.reduce((sum, part) => sum + part.counts[row]!, n));
  return first!.sums.map((density, s) => {
    for (const part of more) for (let i = 0; i < density.length; i++) density[i]! += part.sums[s]![i]!;
    for (let row = 0; row < o.rows; row++)
      for (let k = 0; k < bins; k++)
        density[row * bins + k] = counts[row]! > 0 ? density[row * bins + k]! / counts[row]! : NaN;
    return {
      ...{density, counts, rows: o.rows, from: o.from},
      stepX: o.sampleRateHz / o.segment,
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

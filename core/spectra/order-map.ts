/**
 * The order map: noise over multiples of one motor's speed, in rows of that speed. The signal is read at equal angles of the
 * motor and not at equal times (computed order tracking: Fyfe and Munck 1997), so that what the motor makes stands upright
 * and sharp however its speed changes; a resonance, which stays at its frequency, leans.
 */
import {Periodogram, type Samples} from './periodogram';
import {rowOf, type NoiseMap} from './noise-map';
import type {Part} from './segments';

interface OrderMapOptions {
  readonly sampleRateHz: number;
  readonly parts: readonly Part[];
  readonly rows: number;
  /** Range of speed, revolutions per second. */
  readonly from: number;
  readonly to: number;
  /** Revolutions per second of the motor, sample by sample. */
  readonly motorHz: Samples;
}

/** Samples of one revolution: orders up to 8 are shown, twice that is read. */
const perTurn = 32;
/** Revolutions of a segment: orders a sixteenth apart, two sixteenths wide. */
const turns = 16;
const maxOrder = 8;
/** A motor that stands has no angle, Hz. */
const slowestHz = 10;

export function orderMap(signal: Samples, o: OrderMapOptions): NoiseMap {
  const length = perTurn * turns;
  const periodogram = new Periodogram(length, perTurn);
  const columns = maxOrder * turns + 1;
  const density = new Float64Array(o.rows * columns);
  const used = new Uint32Array(o.rows * columns);
  const counts = new Uint32Array(o.rows);
  const segment = new Float64Array(periodogram.bins);
  for (const part of o.parts) {
    const turned = atEqualAngles(signal, o, part);
    for (let at = 0; at + length <= turned.values.length; at += length / 4) {
      const hz = turned.hz[at + length / 2]!;
      const row = rowOf(hz, o);
      if (row < 0) continue;
      segment.fill(0);
      periodogram.accumulate(turned.values, at, segment);
      counts[row]!++;
      // Beyond half the log's rate nothing is known.
      const known = Math.min(columns - 1, Math.floor(((o.sampleRateHz / 2) * turns) / hz));
      for (let c = 0; c <= known; c++) {
        // Per order to per Hz: one order is hz wide.
        density[row * columns + c]! += segment[c]! / hz;
        used[row * columns + c]!++;
      }
    }
  }
  for (let i = 0; i < density.length; i++) density[i] = used[i]! > 0 ? density[i]! / used[i]! : NaN;
  return {
    ...{density, counts, columns, rows: o.rows, from: o.from},
    stepX: 1 / turns,
    stepY: (o.to - o.from) / o.rows,
  };
}

/** The signal at equal steps of the motor's angle, by cubic interpolation (Catmull and Rom), and the speed there. */
function atEqualAngles(
  signal: Samples,
  {motorHz, sampleRateHz}: OrderMapOptions,
  {start, end}: Part,
): {values: Float64Array; hz: Float64Array} {
  const values: number[] = [];
  const hz: number[] = [];
  let angle = 0;
  let next = 0;
  for (let i = start + 1; i + 2 < end; i++) {
    const speed = motorHz[i]!;
    if (!(speed > slowestHz)) continue;
    const step = (speed / sampleRateHz) * perTurn;
    while (next < angle + step) {
      const t = (next - angle) / step;
      values.push(cubic(signal, i, t));
      hz.push(speed);
      next++;
    }
    angle += step;
  }
  return {values: Float64Array.from(values), hz: Float64Array.from(hz)};
}

function cubic(signal: Samples, i: number, t: number): number {
  const [a, b, c, d] = [signal[i - 1]!, signal[i]!, signal[i + 1]!, signal[i + 2]!];
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}

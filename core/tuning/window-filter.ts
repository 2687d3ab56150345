/**
 * A short window of a flight behind a chain, in the time domain, at the rate that the controller runs its filters with: the
 * window is brought to that rate by its own spectrum, filtered there, and read back at the log's instants.
 */
import FFT from 'fft.js';
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import type {FilterChain} from '../filters/chain';
import {runChain} from '../filters/run-chain';
import {seenSpeeds} from '../filters/seen-speeds';

interface WindowQuestion {
  readonly fromS: number;
  readonly seconds: number;
  readonly filterRateHz: number;
}

export interface FilteredWindow {
  readonly atS: number;
  readonly sampleRateHz: number;
  /** Roll, pitch, yaw. */
  readonly before: readonly Float32Array[];
  readonly after: readonly Float32Array[];
}

/** Filters settle in so long before the window is shown, s. */
const settleS = 0.2;

/** Undefined where the flight has no unbroken part as long as that. */
export function filterWindow(
  log: FlightLog,
  motorsHz: readonly Float32Array[],
  chain: FilterChain,
  q: WindowQuestion,
): FilteredWindow | undefined {
  const rate = log.sampleRateHz;
  const shown = Math.round(q.seconds * rate);
  const settle = Math.round(settleS * rate);
  const length = 2 ** Math.ceil(Math.log2(shown + settle + 32));
  const part = log.stretches.find(
    (s) => s.end - s.start >= length && s.atS + (s.end - s.start) / rate > q.fromS + q.seconds,
  );
  if (!part) return undefined;
  const wanted = part.start + Math.round((q.fromS - part.atS) * rate) - settle;
  const at = Math.min(part.end - length, Math.max(part.start, wanted));
  const times = Math.max(1, Math.round(q.filterRateHz / rate));
  const raise = (column: Float32Array) => upsampled(column.subarray(at, at + length), times);
  const hold = (column: Float32Array) =>
    Float32Array.from({length: length * times}, (_, i) => column[at + Math.floor(i / times)]!);
  const filtered = runChain(chain, {
    axes: axes.map((axis) => raise(log.gyro[axis])),
    motorsHz: seenSpeeds(motorsHz.map(hold), chain.motor, rate * times),
    throttle: log.throttle && hold(log.throttle),
    sampleRateHz: rate * times,
  })!;
  const from = Math.min(
    Math.max(settle, at === part.start ? Math.round((q.fromS - part.atS) * rate) : settle),
    length - shown,
  );
  return {
    atS: part.atS + (at - part.start + from) / rate,
    sampleRateHz: rate,
    before: axes.map((axis) => log.gyro[axis].slice(at + from, at + from + shown)),
    after: filtered.map((axis) => Float32Array.from({length: shown}, (_, i) => axis[(from + i) * times]!)),
  };
}

/** Band-limited: zeros between the halves of the spectrum. The ends are faded over 16 samples, as the window repeats. */
function upsampled(column: Float32Array, times: number): Float32Array {
  if (times === 1) return column.slice();
  const n = column.length;
  const size = n * 2 ** Math.round(Math.log2(times));
  const mean = column.reduce((sum, v) => sum + v, 0) / n;
  const small = new FFT(n);
  const input = small.createComplexArray();
  for (let i = 0; i < n; i++) {
    const edge = Math.min(1, (Math.min(i, n - 1 - i) + 1) / 16);
    input[2 * i] = (column[i]! - mean) * edge;
    input[2 * i + 1] = 0;
  }
  const spectrum = small.createComplexArray();
  small.transform(spectrum, input);
  const large = new FFT(size);
  const wide = large.createComplexArray();
  wide.fill(0);
  for (let k = 0; k < n / 2; k++) {
    wide[2 * k] = spectrum[2 * k]!;
    wide[2 * k + 1] = spectrum[2 * k + 1]!;
    if (k === 0) continue;
    wide[2 * (size - k)] = spectrum[2 * (n - k)]!;
    wide[2 * (size - k) + 1] = spectrum[2 * (n - k) + 1]!;
  }
  const out = large.createComplexArray();
  large.inverseTransform(out, wide);
  return Float32Array.from({length: size}, (_, i) => (out[2 * i]! * size) / n + mean);
}

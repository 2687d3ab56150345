/** The maps that the Noise station shows: over throttle, time, one motor's speed, and over multiples of it. */
import type {Axis} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {
  halved,
  meanOf,
  meanRows,
  rowJob,
  rowOf,
  sumRows,
  type NoiseMap,
  type RowJob,
  type RowSums,
} from '../spectra/noise-map';
import {orderMap} from '../spectra/order-map';
import {segmentStarts} from '../spectra/segments';
import {steadySpeed} from '../spectra/steady-speed';

export const mapKinds = ['throttle', 'time', 'speed', 'order'] as const;
export type MapKind = (typeof mapKinds)[number];

/** Mean speed of one motor in each row, Hz; NaN where the row is empty. */
interface SpeedCurve {
  readonly motor: number;
  readonly hz: Float64Array;
}

/** Rows of a map: as many as its segments fill well, up to a hundred. */
const maxRows = 100;
const perRow = 6;
/** Segment of a map, s: bins of 4 Hz. */
const segmentS = 0.256;

export interface DrawnMap {
  readonly map: NoiseMap;
  readonly curves: readonly SpeedCurve[];
  /** Samples of a segment and from one to the next; 0 where orders are tracked instead. */
  readonly segment: number;
  readonly hop: number;
}

/** A map, and what it was asked for. */
export interface ShownMap extends DrawnMap {
  readonly kind: MapKind;
  readonly axis: Axis;
  /** Motor that speed and order maps follow, counted from 0. */
  readonly motor: number;
}

/** Sums half of a map somewhere else, in the same time. */
export type Helper = (signal: Float32Array, job: RowJob) => Promise<RowSums>;
/** Fewer segments are summed before a helper has got its half. */
const worthHelp = 250;

export async function drawMap(
  log: FlightLog,
  motorsHz: readonly Float32Array[],
  {kind, axis, motor}: {readonly kind: MapKind; readonly axis: Axis; readonly motor: number},
  helper?: Helper,
): Promise<DrawnMap> {
  const segment = 2 ** Math.round(Math.log2(segmentS * log.sampleRateHz));
  const starts = segmentStarts(log.stretches, {segment, hop: segment / 4}).length;
  // Long flights are thinned: a hop of more than a segment leaves nothing out that a mean would show.
  const hop = Math.max(segment / 4, Math.ceil((starts * (segment / 4)) / 12_000));
  const speed = motorsHz[motor];
  const rows = Math.max(20, Math.min(maxRows, Math.round(Math.min(starts, 12_000) / perRow)));
  const base = {sampleRateHz: log.sampleRateHz, segment, hop, parts: log.stretches, rows};
  const values = valuesOf(log, speed, kind, segment);
  const range = values.range;
  if (kind === 'order' && speed) {
    const {sampleRateHz, stretches: parts} = log;
    const map = orderMap(log.gyro[axis], {sampleRateHz, parts, rows, ...range, motorHz: speed});
    return {map, curves: [], segment: 0, hop: 0};
  }
  const options = {...base, ...range, valueAt: values.valueAt};
  const job = rowJob(options);
  const signal = log.gyro[axis];
  const sums: RowSums[] = [];
  if (helper && job.starts.length > worthHelp) {
    const {first, second, from, to} = halved(job);
    const there = helper(signal.slice(from, to), second);
    sums.push(sumRows([signal], first), await there);
  } else sums.push(sumRows([signal], job));
  const [map] = meanRows(sums, options);
  return {
    ...{map: map!, segment, hop},
    curves: motorsHz.map((hz, m) => ({motor: m, hz: curveOf(hz, options)})),
  };
}

function valuesOf(log: FlightLog, speed: Float32Array | undefined, kind: MapKind, segment: number) {
  const last = log.stretches.at(-1);
  if (kind === 'time' || (kind !== 'throttle' && !speed) || (kind === 'throttle' && !log.throttle)) {
    const timeAt = (at: number) => {
      const part = log.stretches.find((s) => at >= s.start && at < s.end)!;
      return part.atS + (at - part.start + segment / 2) / log.sampleRateHz;
    };
    const end = last ? last.atS + (last.end - last.start) / log.sampleRateHz : 1;
    return {valueAt: timeAt, range: {from: log.stretches[0]?.atS ?? 0, to: end}};
  }
  if (kind === 'throttle')
    return {valueAt: (at: number) => meanOf(log.throttle!, at, segment), range: {from: 0, to: 100}};
  const most = speed!.reduce((m, v) => Math.max(m, v), 0);
  return {
    valueAt: (at: number) => steadySpeed(speed!, {at, length: segment, maxChange: 0.2}),
    range: {from: 0, to: Math.max(1, most)},
  };
}

function curveOf(
  hz: Float32Array,
  o: {
    readonly segment: number;
    readonly hop: number;
    readonly parts: FlightLog['stretches'];
    readonly rows: number;
    readonly from: number;
    readonly to: number;
    readonly valueAt: (at: number) => number;
  },
): Float64Array {
  const inRow: number[][] = Array.from({length: o.rows}, () => []);
  for (const at of segmentStarts(o.parts, o)) {
    const row = rowOf(o.valueAt(at), o);
    if (row >= 0) inRow[row]!.push(meanOf(hz, at, o.segment));
  }
  // The median: a cut or a punch, in which speed lags behind throttle, does not bend the line.
  return Float64Array.from(inRow, (list) => list.sort((x, y) => x - y)[list.length >> 1] ?? NaN);
}

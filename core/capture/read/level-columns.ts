/**
 * A wire squeezed into the columns of a picture: in each the levels that were there, so that no pulse is lost however far one is
 * away. Edges rise in time, so the first one of a column is found by halving; that is exact and needs no table of coarser steps.
 */
import {levelAfter, type Wire} from './capture';
import {firstWhere} from '../ask/first-where';

/** What a column holds: any of them together. */
export const [sawLow, sawHigh, sawUnknown] = [1, 2, 4];

/** @returns one number for each column, of {@link sawLow}, {@link sawHigh} and {@link sawUnknown}. */
export function levelColumns(
  wire: Pick<Wire, 'first' | 'edges' | 'unknown'>,
  {from, to, columns}: {readonly from: number; readonly to: number; readonly columns: number},
): Uint8Array {
  const out = new Uint8Array(columns);
  if (wire.first === undefined) return out.fill(sawUnknown);
  const {edges, unknown} = wire;
  const width = (to - from) / columns;
  let next = firstFrom(edges, from);
  for (let c = 0; c < columns; c++) {
    const end = from + (c + 1) * width;
    let seen = levelAfter(wire, next) ? sawHigh : sawLow;
    if (next < edges.length && edges[next]! < end) {
      seen = sawLow | sawHigh;
      next = firstFrom(edges, end, next);
    }
    out[c] = seen;
  }
  for (let i = 0; i < unknown.length; i += 2) {
    const [a, b] = [Math.floor((unknown[i]! - from) / width), Math.ceil((unknown[i + 1]! - from) / width)];
    for (let c = Math.max(0, a); c < Math.min(columns, b); c++) out[c]! |= sawUnknown;
  }
  return out;
}

/** Index of the first time that is this one or later; looks ahead in growing steps from `begin`, then halves. */
export function firstFrom(times: Float64Array, time: number, begin = 0): number {
  let [low, step] = [begin, 1];
  while (low + step < times.length && times[low + step]! < time) {
    low += step;
    step *= 2;
  }
  return firstWhere(low, Math.min(times.length, low + step), (i) => times[i]! >= time);
}

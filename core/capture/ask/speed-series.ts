/** Speeds that replies of a wire told, over time; of more than a picture has columns, the lowest and highest of each. */
import type {DecodedWire} from '../decode/decode-wire';
import {meaningOf, speedOf} from './figures';

export interface SpeedSeries {
  /** s */
  readonly t: Float64Array;
  /** rpm with the poles that were asked for, else eRPM. */
  readonly speed: Float64Array;
}

export function speedSeries(wire: DecodedWire, poles: number | undefined, columns = 600): SpeedSeries {
  const points: [number, number][] = [];
  wire.replies.forEach(({t}, i) => {
    const speed = t === null ? undefined : speedOf(meaningOf(wire, i), poles);
    if (speed) points.push([t!, speed.rpm ?? speed.erpm]);
  });
  const kept = points.length <= 2 * columns ? points : squeezed(points, columns);
  return {t: Float64Array.from(kept, ([t]) => t), speed: Float64Array.from(kept, ([, v]) => v)};
}

function squeezed(points: readonly [number, number][], columns: number): [number, number][] {
  const [from, to] = [points[0]![0], points.at(-1)![0]];
  const kept: [number, number][] = [];
  let i = 0;
  for (let c = 1; c <= columns && i < points.length; c++) {
    const end = c === columns ? Infinity : from + ((to - from) * c) / columns;
    let [low, high] = [points[i]!, points[i]!];
    for (; i < points.length && points[i]![0] < end; i++) {
      if (points[i]![1] < low[1]) low = points[i]!;
      if (points[i]![1] > high[1]) high = points[i]!;
    }
    kept.push(...(low === high ? [low] : low[0] < high[0] ? [low, high] : [high, low]));
  }
  return kept;
}

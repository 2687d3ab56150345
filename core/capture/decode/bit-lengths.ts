/** How long the active parts of bits are: two heaps at 3/8 and 3/4 of a bit, or the pulses of an analog wire. */
import {leadingFrom} from './bursts';
import type {Wire} from '../read/capture';
import type {DecodedWire} from './decode-wire';
import {firstFrom} from '../read/level-columns';
import {pulseLengths} from './pulses';

export interface Histogram {
  /** Begin of the first bin and width of each, µs. */
  readonly fromUs: number;
  readonly stepUs: number;
  readonly counts: Uint32Array;
}

const bins = 120;
/** Bits of a command. */
const bits = 16;

/** Of the commands, or of every pulse where there are none; undefined without any. */
export function bitLengths(wire: Wire, decoded: DecodedWire): Histogram | undefined {
  const {edges} = wire;
  if (decoded.rate) {
    const lengths: number[] = [];
    const {bitS} = decoded.rate;
    let at = 0;
    for (const {t} of decoded.commands) {
      at = firstFrom(edges, t - 0.3 * bitS, at);
      for (let i = at; i + 1 < edges.length && edges[i]! < t + (bits - 0.5) * bitS; i += 2)
        lengths.push((edges[i + 1]! - edges[i]!) * 1e6);
    }
    return binned(lengths, {fromUs: 0, toUs: bitS * 1e6});
  }
  const rest = decoded.inverted ? 1 : 0;
  const pulses = pulseLengths(edges, leadingFrom(wire, rest));
  if (!pulses.length) return undefined;
  const sorted = Float64Array.from(pulses).sort();
  const [low, high] = [sorted[Math.floor(sorted.length * 0.005)]!, sorted[Math.ceil(sorted.length * 0.995) - 1]!];
  const margin = Math.max(0.1 * (high - low), 0.05 * high);
  return binned(pulses, {fromUs: Math.max(0, low - margin), toUs: high + margin});
}

function binned(
  lengths: ArrayLike<number> & Iterable<number>,
  {fromUs, toUs}: {fromUs: number; toUs: number},
): Histogram | undefined {
  if (!lengths.length) return undefined;
  const stepUs = (toUs - fromUs) / bins;
  const counts = new Uint32Array(bins);
  for (const us of lengths) counts[Math.max(0, Math.min(bins - 1, Math.floor((us - fromUs) / stepUs)))]!++;
  return {fromUs, stepUs, counts};
}

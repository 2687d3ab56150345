/** Wires with one pulse a loop, whose length is the throttle: which kind, by the lengths that come. */
import {pulseProtocols, pulseSpanUs, type PulseProtocol} from '../dshot/protocol';

/** What a pulse may be shorter or longer than its kind: ends are trimmed, share. */
const toSpare = {least: 0.8, most: 1.08};
/** This share of the pulses has to fit. */
const mostFit = 0.95;

/** @param lead index of the first edge that leaves the level at rest. */
export function pulseKind(edges: Float64Array, lead: number): PulseProtocol | undefined {
  const pulses = pulseLengths(edges, lead);
  return pulseProtocols.find((protocol) => {
    const [shortest, longest] = pulseSpanUs[protocol];
    const fits = (us: number) => us >= shortest * toSpare.least && us <= longest * toSpare.most;
    return pulses.length > 0 && pulses.filter(fits).length >= mostFit * pulses.length;
  });
}

/** Length of every pulse, µs. */
export function pulseLengths(edges: Float64Array, lead: number): Float64Array {
  const lengths = new Float64Array(Math.max(0, (edges.length - lead) >> 1));
  for (let i = 0; i < lengths.length; i++) lengths[i] = (edges[lead + 2 * i + 1]! - edges[lead + 2 * i]!) * 1e6;
  return lengths;
}

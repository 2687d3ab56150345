/** Wires with one pulse a loop, whose length is the throttle: which kind, by the lengths that come, and which way up. */
import {pulseProtocols, pulseSpanUs, type PulseProtocol} from '../../dshot/protocol';
import {leadingFrom} from './bursts';
import type {Level, Wire} from '../read/capture';

/** What a pulse may be shorter or longer than its kind: ends are trimmed, share. */
const toSpare = {least: 0.8, most: 1.08};
/** This share of the pulses has to fit. */
const maxFit = 0.95;
/** Edges count as steadier where they stray from their period by less than this share of what the others do. */
const steadier = 0.8;

interface Pulses {
  readonly protocol: PulseProtocol;
  readonly rest: Level;
}

/**
 * Pulses whose lengths are those of a kind. Where that is so either way up (1 to 2 ms at 400 Hz leave pauses of 0.5 to 1.5 ms),
 * the edges that begin a pulse are those with the steady period: a loop begins them, and throttle moves the others. Where no
 * edge moves, the pulse is high, as it is on nearly every wire (common practice).
 */
export function pulsesOf(wire: Pick<Wire, 'first' | 'edges'>): Pulses | undefined {
  const [high, low] = ([0, 1] as const).map((rest): (Pulses & {readonly lead: number}) | undefined => {
    const lead = leadingFrom(wire, rest);
    const protocol = pulseKind(wire.edges, lead);
    return protocol && {protocol, rest, lead};
  });
  if (!high || !low) return high ?? low;
  return strayOf(wire.edges, low.lead) < steadier * strayOf(wire.edges, high.lead) ? low : high;
}

function pulseKind(edges: Float64Array, lead: number): PulseProtocol | undefined {
  const pulses = pulseLengths(edges, lead);
  return pulseProtocols.find((protocol) => {
    const [shortest, longest] = pulseSpanUs[protocol];
    const fits = (us: number) => us >= shortest * toSpare.least && us <= longest * toSpare.most;
    return pulses.length > 0 && pulses.filter(fits).length >= maxFit * pulses.length;
  });
}

/** By how much the times from every second edge to the next but one stray from their median, mean, s. */
function strayOf(edges: Float64Array, lead: number): number {
  const periods = new Float64Array(Math.max(0, (edges.length - lead - 1) >> 1));
  for (let i = 0; i < periods.length; i++) periods[i] = edges[lead + 2 * i + 2]! - edges[lead + 2 * i]!;
  const middle = Float64Array.from(periods).sort()[periods.length >> 1] ?? 0;
  return periods.reduce((sum, period) => sum + Math.abs(period - middle), 0) / Math.max(1, periods.length);
}

/** Length of every pulse, µs. @param lead index of the first edge that leaves the level at rest. */
export function pulseLengths(edges: Float64Array, lead: number): Float64Array {
  const lengths = new Float64Array(Math.max(0, (edges.length - lead) >> 1));
  for (let i = 0; i < lengths.length; i++) lengths[i] = (edges[lead + 2 * i + 1]! - edges[lead + 2 * i]!) * 1e6;
  return lengths;
}

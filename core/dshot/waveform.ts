/** The levels of a command and its reply on the wire, over time (open trade protocol). */
import {pauseUs} from './wire-time';
import {bitUs, type DigitalProtocol} from './protocol';

export interface Edge {
  /** From the beginning of the command, µs. */
  readonly us: number;
  /** The level from here on. */
  readonly level: 0 | 1;
}

/** A bit is active for 3/8 of its time where it is 0, and for 3/4 where it is 1. Bidirectional wires rest high and are active low. */
export function commandEdges(word: number, protocol: DigitalProtocol, bidirectional: boolean): Edge[] {
  const bit = bitUs(protocol);
  const active = bidirectional ? 0 : 1;
  return Array.from({length: 16}, (_, i) => (word >> (15 - i)) & 1).flatMap((one, i) => [
    {us: i * bit, level: active},
    {us: i * bit + bit * (one ? 3 / 4 : 3 / 8), level: (1 - active) as 0 | 1},
  ]);
}

/** 21 line bits at 5/4 of the rate, about 30 µs after the command. */
export function replyEdges(line: number, protocol: DigitalProtocol): Edge[] {
  const bit = bitUs(protocol) * (4 / 5);
  const begin = 16 * bitUs(protocol) + pauseUs.usual;
  const edges: Edge[] = [];
  let level = 1;
  for (let i = 0; i <= 21; i++) {
    const next = i === 21 ? 1 : (line >> (20 - i)) & 1;
    if (next !== level) edges.push({us: begin + i * bit, level: next as 0 | 1});
    level = next;
  }
  return edges;
}

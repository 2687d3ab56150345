/** A wire as bursts between spans of rest: where frames can begin, whatever they carry. */
import {levelAfter, type Level, type Wire} from './capture';

/** At rest a wire keeps its level for longer than any run of bits of a frame does, s: three of 5.3 µs. */
const restS = 17e-6;

/** Level at rest: the one at which the wire spends most of its long spans; undefined where it never rests. */
export function restLevel(wire: Pick<Wire, 'first' | 'edges'>, to: number): Level | undefined {
  const {edges} = wire;
  const total: [number, number] = [0, 0];
  for (let i = 1; i < edges.length; i++) {
    const span = edges[i]! - edges[i - 1]!;
    if (span >= restS) total[levelAfter(wire, i)] += span;
  }
  const left = edges.length ? to - edges.at(-1)! : 0;
  if (left >= restS) total[levelAfter(wire, edges.length)] += left;
  if (total[0] === total[1]) return undefined;
  return total[1] > total[0] ? 1 : 0;
}

/** Indices of the edges that leave the level at rest. */
export const leadingFrom = (wire: Pick<Wire, 'first'>, rest: Level): number => (levelAfter(wire, 0) === rest ? 0 : 1);

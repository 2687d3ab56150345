/** A wire as bursts between spans of rest: where frames can begin, whatever they carry. */
import {levelAfter, type Level, type Wire} from './capture';

/** At rest a wire keeps its level for longer than any run of bits of a frame does, s: three of 5.3 µs. */
export const restS = 17e-6;

/** Level at rest: the one at which the wire spends most of its long spans; undefined where it never rests. */
export function restLevel(wire: Pick<Wire, 'first' | 'edges'>, to: number): Level | undefined {
  const {edges} = wire;
  const total: [number, number] = [0, 0];
  let longest = 0;
  for (let i = 1; i < edges.length; i++) {
    const span = edges[i]! - edges[i - 1]!;
    if (span >= restS) total[levelAfter(wire, i)] += span;
    else if (span > longest) longest = span;
  }
  const left = edges.length ? to - edges.at(-1)! : 0;
  if (left >= restS) total[levelAfter(wire, edges.length)] += left;
  if (total[0] !== total[1]) return total[1] > total[0] ? 1 : 0;
  return total[0] === 0 ? briefRest(wire, longest) : undefined;
}

/** Fast loops leave no span so long between frames: there a span stands out that is so many times the mean of all. */
const standsOut = 2;

function briefRest(wire: Pick<Wire, 'first' | 'edges'>, longest: number): Level | undefined {
  const {edges} = wire;
  const mean = (edges.at(-1)! - edges[0]!) / Math.max(1, edges.length - 1);
  if (longest < standsOut * mean) return undefined;
  const total: [number, number] = [0, 0];
  for (let i = 1; i < edges.length; i++) {
    const span = edges[i]! - edges[i - 1]!;
    if (span > longest / 2) total[levelAfter(wire, i)] += span;
  }
  return total[1] > total[0] ? 1 : 0;
}

/** Indices of the edges that leave the level at rest. */
export const leadingFrom = (wire: Pick<Wire, 'first'>, rest: Level): number => (levelAfter(wire, 0) === rest ? 0 : 1);

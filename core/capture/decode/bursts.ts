/** A wire as bursts between spans of rest: where frames can begin, whatever they carry. */
import {levelAfter, type Level, type Wire} from '../read/capture';

/** At rest a wire keeps its level for longer than any run of bits of a frame does, s: three of 5.3 µs. */
export const restS = 17e-6;

/** Fast loops leave no span so long between frames: there a span stands out that is so many times the mean of all. */
const standsOut = 2;

/** Level at rest: the one at which the wire spends most of its long spans; undefined where it never rests. */
export function restLevel(wire: Pick<Wire, 'first' | 'edges'>, to: number): Level | undefined {
  const {edges} = wire;
  const long = levelOfSpans(wire, {leastS: restS, to});
  if (long !== undefined || edges.length < 2) return long;
  const last = edges.at(-1)!;
  const longest = longestSpan(edges);
  const standsSo = longest < restS && longest >= (standsOut * (last - edges[0]!)) / (edges.length - 1);
  return standsSo ? levelOfSpans(wire, {leastS: longest / 2, to: last}) : undefined;
}

/** Level at which the wire spends most of its spans of so long or more; undefined where there are none, or as much of both. */
function levelOfSpans(
  wire: Pick<Wire, 'first' | 'edges'>,
  {leastS, to}: {readonly leastS: number; readonly to: number},
): Level | undefined {
  const {edges} = wire;
  const total: [number, number] = [0, 0];
  for (let i = 1; i <= edges.length; i++) {
    const span = (edges[i] ?? to) - edges[i - 1]!;
    if (span >= leastS) total[levelAfter(wire, i)] += span;
  }
  if (total[0] === total[1]) return undefined;
  return total[1] > total[0] ? 1 : 0;
}

function longestSpan(edges: Float64Array): number {
  let longest = 0;
  for (let i = 1; i < edges.length; i++) longest = Math.max(longest, edges[i]! - edges[i - 1]!);
  return longest;
}

/** Indices of the edges that leave the level at rest. */
export const leadingFrom = (wire: Pick<Wire, 'first'>, rest: Level): number => (levelAfter(wire, 0) === rest ? 0 : 1);

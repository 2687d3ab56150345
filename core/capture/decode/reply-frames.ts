/** Replies on a bidirectional wire: 21 bits at 5/4 of the commands' rate, about 30 µs after each (open trade protocol). */
import {decodeReplyBody} from '../../dshot/reply';

export const lineBits = 21;
/** Once its bits are over, a span without an edge for so many bits is rest. */
const longestRun = 4.5;
/** Its bits are over after so many; a clock that is off and jitter may move the last edge. */
const overAfter = lineBits + 0.9;
/** Rate of a reply against that of its command. */
export const replyShare = 4 / 5;
/** A reply begins at the earliest and at the latest so long after its command, s. */
export const [earliestS, latestS] = [8e-6, 90e-6];

type ReplyWhy = 'gcr_code' | 'checksum';

export interface ReadReply {
  /** When it begins, s; null for one that did not come. */
  readonly t: number | null;
  /** Index of the command that it answers. */
  readonly command: number;
  readonly status: 'ok' | 'bad' | 'missing';
  readonly why: ReplyWhy | null;
  /** The twelve bits, where they read: what they mean depends on what the ESC was told to tell. */
  readonly body: number | undefined;
}

/** Where the burst of a reply ends: the index after its last edge. A damaged one may be without an edge for a while. */
export function endOfReply(edges: Float64Array, begin: number, bitS: number): number {
  const [over, run] = [edges[begin]! + overAfter * bitS * replyShare, longestRun * bitS * replyShare];
  let end = begin + 1;
  while (end < edges.length && (edges[end]! < over || edges[end]! - edges[end - 1]! < run)) end++;
  return end;
}

/** Reads the reply between two indices of edges. @param bitS of the command, s. */
export function readReply(
  edges: Float64Array,
  [begin, end]: readonly [number, number],
  {bitS, command}: {readonly bitS: number; readonly command: number},
): ReadReply {
  const t = edges[begin]!;
  const line = lineOf(edges, begin, end, bitS * replyShare);
  if (line === undefined) return badReply(t, command, 'gcr_code');
  const read = decodeReplyBody(line);
  if (!read.ok) return badReply(t, command, read.problem === 'bad-checksum' ? 'checksum' : 'gcr_code');
  return {t, command, status: 'ok', why: null, body: read.value};
}

/** One that came and does not check. */
export const badReply = (t: number, command: number, why: ReplyWhy): ReadReply => ({
  ...{t, command, status: 'bad', why, body: undefined},
});

export const missingReply = (command: number): ReadReply => ({
  ...{t: null, command, status: 'missing', why: null, body: undefined},
});

/** The 21 line bits: each span between two edges is a whole number of bits; undefined where it cannot be. */
function lineOf(edges: Float64Array, begin: number, end: number, bitS: number): number | undefined {
  let [line, count, level] = [0, 0, 0];
  for (let i = begin + 1; i < end; i++) {
    const bits = Math.round((edges[i]! - edges[i - 1]!) / bitS);
    if (bits < 1 || count + bits > lineBits) return undefined;
    for (let k = 0; k < bits; k++) line = (line << 1) | level;
    count += bits;
    level = 1 - level;
  }
  // The line is back at rest, high, for what is left.
  if (level === 0) return undefined;
  for (; count < lineBits; count++) line = (line << 1) | 1;
  return line;
}

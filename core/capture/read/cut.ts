/** What the begin or the end of a capture cuts through is no frame: where the first whole one begins, whether the last is whole. */
import type {BitRate} from '../decode/bit-rate';
import {restS} from '../decode/bursts';
import {readBurst} from '../decode/commands';
import {latestS, lineBits, replyShare, type ReadReply} from '../decode/reply-frames';

/** A command that was cut, and the reply to it, which may have come in pieces. */
const maxCut = 4;
/** No frame is without an edge for so many bits, but for damaged replies; the shortest pause between two has more. */
const pauseBits = 2.7;

/**
 * Index of the first leading edge that can begin a command: what does not read and may be the rest of an exchange that began
 * before the capture is passed over.
 * @param from when the capture begins, s.
 */
export function firstWhole(
  edges: Float64Array,
  lead: number,
  {from, bitS}: Pick<BitRate, 'bitS'> & {readonly from: number},
): number {
  let [i, rests] = [lead, lead === 0 ? from : edges[0]!];
  for (let cut = 0; cut < maxCut && i < edges.length; cut++) {
    if (edges[i]! - rests > latestS || readBurst(edges, i, {bitS}).word !== undefined) return i;
    let end = i + 1;
    while (end < edges.length && edges[end]! - edges[end - 1]! < pauseBits * bitS) end++;
    rests = edges[end - 1]!;
    i = end + ((end - i) % 2);
  }
  return i;
}

/** Whether the capture ends in the midst of a command: the wire did not come to rest. */
export const endsWithin = (edges: Float64Array, to: number): boolean => to - edges.at(-1)! < restS;

/** A pause is taken to be no longer than the median of the others, and this, s. */
const lateS = 5e-6;
/** Bits that a whole reply may end with at rest. */
const restBits = 3.5;

/** Whether the capture ends before the last reply can have come whole. @param due when its command ended, s. */
export function isReplyCut(
  {t, status}: ReadReply,
  {due, to, pauseS, bitS}: {due: number; to: number; pauseS: number | undefined; bitS: number},
): boolean {
  // Where none ever came, none is being waited for.
  if (status === 'missing') return pauseS !== undefined && to < due + pauseS + lateS;
  return status === 'bad' && to < t! + (lineBits - restBits) * bitS * replyShare;
}

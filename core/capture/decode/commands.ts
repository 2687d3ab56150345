/** DShot commands on a wire: bursts of bits whose active part is 3/8 of a bit for a 0 and 3/4 for a 1 (open trade protocol). */
import {commandChecksum, decodeCommand} from '../../dshot/command';
import {bitTolerance, commandBits, type BitRate} from './bit-rate';

export interface CommandFrame {
  /** When its first bit begins, s, as the grid of all its bits has it. */
  readonly t: number;
  /** Undefined where it has not sixteen bits that read. */
  readonly word: number | undefined;
  /** Bits that were there. */
  readonly bits: number;
  /** How far its leading edges lie from their grid: mean square, s². */
  readonly jitterS2: number;
  /** Index of the leading edge after it. */
  readonly next: number;
}

const longestStep = 2.6;
/** Between 3/8 and 3/4 of a bit. */
const threshold = 9 / 16;

/** Reads the burst that begins with the leading edge of this index. */
export function readBurst(edges: Float64Array, begin: number, {bitS}: Pick<BitRate, 'bitS'>): CommandFrame {
  let [bits, reads] = [0, true];
  let i = begin;
  let offset = 0;
  for (; i < edges.length; i += 2) {
    if (bits > 0) {
      const step = (edges[i]! - edges[i - 2]!) / bitS;
      // A bit that was lost in the middle does not end a frame.
      if (step > longestStep) break;
      if (Math.abs(step - 1) > bitTolerance) reads = false;
    }
    if ((edges[i + 1] ?? Infinity) - edges[i]! > bitS) reads = false;
    offset += edges[i]! - bits * bitS;
    bits++;
  }
  const t = offset / bits;
  let [word, squares] = [0, 0];
  for (let bit = 0; bit < bits; bit++) {
    // Held against the grid of all bits, one that began late does not look short.
    const grid = t + bit * bitS;
    word = (word << 1) | (edges[begin + 2 * bit + 1]! - grid > threshold * bitS ? 1 : 0);
    squares += (edges[begin + 2 * bit]! - grid) ** 2;
  }
  const isWhole = reads && bits === commandBits;
  return {t, bits, word: isWhole ? word & 0xffff : undefined, jitterS2: isWhole ? squares / (bits - 1) : 0, next: i};
}

/** Whether checksums are those of a bidirectional wire, by most of the words. */
export function isBidirectional(words: readonly number[]): boolean {
  const fits = (bidirectional: boolean) =>
    words.filter((w) => (w & 0xf) === commandChecksum((w >> 4) & 0xfff, bidirectional)).length;
  return fits(true) > fits(false);
}

export interface ReadCommand {
  readonly t: number;
  /** Null where it has not sixteen bits that read. */
  readonly value: number | null;
  readonly telemetry: boolean | null;
  readonly ok: boolean;
  /** All sixteen bits. */
  readonly word: number | null;
}

/** One that does not read, at its time. */
export const unreadCommand = (t: number): ReadCommand => ({t, value: null, telemetry: null, ok: false, word: null});

export function commandOf({t, word}: CommandFrame, bidirectional: boolean): ReadCommand {
  if (word === undefined) return unreadCommand(t);
  const body = (word >> 4) & 0xfff;
  return {t, value: body >> 1, telemetry: (body & 1) === 1, ok: decodeCommand(word, bidirectional).ok, word};
}

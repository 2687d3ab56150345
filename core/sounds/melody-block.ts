/**
 * A start-up melody as an ESC keeps it, in its settings page from layout 8 on:
 *
 * | offset | size | field |
 * |---|---|---|
 * | 128 | 2 | magic 0x52 0x31 |
 * | 130 | 1 | number of notes, 1…64 |
 * | 131 | 2 | quarter notes a minute, little-endian |
 * | 133 | 2 each | pitch in semitones, 0 for a pause; length: bits 0–2 the power of two, bit 3 the dot |
 * | behind | 2 | CRC-16/IBM-3740 of everything from 128 on, little-endian |
 */
import {crc16} from '../checksums';
import {failure, type Problem, type Result} from '../problem';
import {durations, melodyMs, readRtttl, writeRtttl, type Melody, type Note} from './rtttl';

const start = 128;
const headBytes = 5;
const magic = [0x52, 0x31] as const;
export const melodyLimits = {
  notes: 64,
  /** An ESC drives its motor only after the melody has ended, ms. */
  ms: 8000,
} as const;
/** Layout revision from which an ESC keeps a melody of one's own. */
export const keepsMelody = (layout: number | undefined): boolean => layout !== undefined && layout >= 8;

/** RTTTL text that an ESC can keep, or why it cannot. */
export function codableMelody(text: string): Result<Melody> {
  const read = readRtttl(text);
  if (!read.ok) return read;
  const {notes} = read.value;
  if (notes.length > melodyLimits.notes)
    return tooLong(`It has ${notes.length} notes; an ESC keeps ${melodyLimits.notes}.`);
  const ms = melodyMs(read.value);
  if (ms > melodyLimits.ms)
    return tooLong(
      `It lasts ${(ms / 1000).toFixed(1)} s; the motor waits for it, so ${melodyLimits.ms / 1000} s is the most.`,
    );
  return read;
}

const tooLong = (meaning: string): {ok: false; problem: Problem} =>
  failure({code: 'melody-too-long', place: 'melody', meaning, remedy: 'Shorten it, or give it more beats a minute.'});

/** Fresh page with the melody in it. The name is not kept. Throws on a melody beyond the limits: the caller checks first. */
export function withMelody(page: Uint8Array, {beats, notes}: Melody): Uint8Array {
  const end = start + headBytes + 2 * notes.length;
  if (notes.length < 1 || notes.length > melodyLimits.notes || end + 2 > page.length)
    throw new RangeError(`A melody of ${notes.length} notes cannot be kept`);
  const out = page.slice();
  const view = new DataView(out.buffer);
  out.set(magic, start);
  out[start + 2] = notes.length;
  view.setUint16(start + 3, beats, true);
  notes.forEach(({pitch, duration, dotted}, i) => {
    out[start + headBytes + 2 * i] = pitch ?? 0;
    out[start + headBytes + 2 * i + 1] = durations.indexOf(duration) | (dotted ? 8 : 0);
  });
  view.setUint16(end, crc16(out.subarray(start, end)), true);
  return out;
}

/** The melody that a settings page holds; undefined where it holds none that checks. */
export function melodyIn(page: Uint8Array): Melody | undefined {
  if (page.length < start + headBytes + 2 || page[start] !== magic[0] || page[start + 1] !== magic[1]) return undefined;
  const count = page[start + 2]!;
  const end = start + headBytes + 2 * count;
  if (count < 1 || count > melodyLimits.notes || end + 2 > page.length) return undefined;
  const view = new DataView(page.buffer, page.byteOffset, page.byteLength);
  if (view.getUint16(end, true) !== crc16(page.subarray(start, end))) return undefined;
  const notes = Array.from({length: count}, (_, i): Note | undefined => {
    const [pitch, length] = [page[start + headBytes + 2 * i]!, page[start + headBytes + 2 * i + 1]!];
    const duration = durations[length & 7];
    return duration && {pitch: pitch || undefined, duration, dotted: (length & 8) !== 0};
  });
  return notes.every((note) => note !== undefined)
    ? {name: '', beats: view.getUint16(start + 3, true), notes}
    : undefined;
}

/** Text by which two melodies are compared: the name is not kept, so it does not count. */
export const melodyText = (melody: Melody | undefined): string => (melody ? writeRtttl({...melody, name: ''}) : 'none');

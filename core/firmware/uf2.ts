/**
 * UF2 (public specification): blocks of 512 bytes, all words little-endian.
 *
 * | offset | field |
 * |---|---|
 * | 0, 4 | magic 0x0A324655, 0x9E5D5157 |
 * | 8 | flags: 0x1 not for flash, 0x1000 file container, 0x2000 family present |
 * | 12, 16 | address, bytes of payload (at most 476) |
 * | 20, 24 | number of this block from 0, number of blocks |
 * | 28 | family, where the flag says so |
 * | 32 | payload |
 * | 508 | magic 0x0AB16F30 |
 */
import type {ImageReading} from './image';
import {ImageCollector} from './pieces';
import {hexOf} from '../hex';

export const uf2BlockBytes = 512;
const magics = {first: 0x0a324655, second: 0x9e5d5157, last: 0x0ab16f30};
const flags = {notForFlash: 0x1, container: 0x1000, family: 0x2000};
const mostPayload = 476;

export interface Uf2Reading extends ImageReading {
  /** Families named in the file, each once. */
  readonly families: readonly number[];
}

export const looksLikeUf2 = (file: Uint8Array): boolean =>
  file.length >= 4 && new DataView(file.buffer, file.byteOffset, 4).getUint32(0, true) === magics.first;

/** Reads a UF2 file. Never throws: every fault is listed with the number of its block. */
export function readUf2(file: Uint8Array): Uf2Reading {
  const collector = new ImageCollector();
  const families = new Set<number>();
  const whole = Math.floor(file.length / uf2BlockBytes);
  let announced: number | undefined;
  let broken = false;
  /** Where each block number stands in the file. */
  const came = new Map<number, number[]>();
  for (let line = 0; line < whole; line++) {
    const block = new DataView(file.buffer, file.byteOffset + line * uf2BlockBytes, uf2BlockBytes);
    const word = (at: number) => block.getUint32(at, true);
    if (word(0) !== magics.first || word(4) !== magics.second || word(508) !== magics.last) {
      broken = true;
      collector.fault({
        line,
        kind: 'bad-block',
        text: 'The block does not carry the magic words of UF2. The file is damaged.',
      });
      continue;
    }
    if (word(8) & flags.family) families.add(word(28));
    announced ??= word(24);
    if (word(24) !== announced || word(20) >= word(24)) {
      broken = true;
      collector.fault({
        line,
        kind: 'bad-block',
        text: `The block calls itself ${word(20)} of ${word(24)}; the file began with ${announced} blocks.`,
      });
      continue;
    }
    came.set(word(20), [...(came.get(word(20)) ?? []), line]);
    if (word(8) & (flags.notForFlash | flags.container)) continue;
    if (word(16) > mostPayload) {
      collector.fault({
        line,
        kind: 'bad-length',
        text: `The block announces ${word(16)} bytes of payload; ${mostPayload} is the most.`,
      });
      continue;
    }
    const start = file.byteOffset + line * uf2BlockBytes + 32;
    collector.add({start: word(12), bytes: new Uint8Array(file.buffer.slice(start, start + word(16))), line});
  }
  if (file.length % uf2BlockBytes)
    collector.fault({
      line: whole,
      kind: 'bad-length',
      text: `The last block has ${file.length % uf2BlockBytes} of ${uf2BlockBytes} bytes. The file is cut off.`,
    });
  if (announced !== undefined && whole < announced)
    collector.fault({
      line: whole,
      kind: 'missing-end',
      text: `${whole} of ${announced} blocks came. The file is cut off.`,
    });
  // A block that does not read says enough by itself.
  else if (announced !== undefined && !broken) checkNumbers(collector, came, announced);
  const reading = collector.finish();
  const notes = [...reading.notes];
  if (families.size > 1)
    notes.push({
      line: 0,
      text: `Blocks for ${families.size} families: ${[...families].map((f) => '0x' + hexOf(f, 8)).join(', ')}.`,
    });
  return {...reading, notes, families: [...families]};
}

/** Every number comes once: one that comes twice took the place of one that is missing. */
function checkNumbers(
  collector: ImageCollector,
  came: ReadonlyMap<number, readonly number[]>,
  announced: number,
): void {
  for (const [number, lines] of came)
    if (lines.length > 1)
      collector.fault({
        line: lines[1]!,
        kind: 'bad-block',
        text: `Block ${number} comes ${lines.length} times, first at ${lines[0]}. Another one was overwritten by it.`,
      });
  let missing = 0;
  let first = -1;
  for (let number = 0; number < announced; number++)
    if (!came.has(number)) {
      if (!missing++) first = number;
    }
  if (missing)
    collector.fault({
      line: first,
      kind: 'bad-block',
      text: `Block ${first} of ${announced} is missing${missing > 1 ? `, and ${missing - 1} more` : ''}. The file is damaged.`,
    });
}

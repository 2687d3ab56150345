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
import type {ImageReading} from '../image';
import {ImageCollector} from './pieces';
import {hexOf} from '../../hex';

const uf2BlockBytes = 512;
const magics = {first: 0x0a324655, second: 0x9e5d5157, last: 0x0ab16f30};
const flags = {notForFlash: 0x1, container: 0x1000, family: 0x2000};
const maxPayload = 476;

interface Uf2Reading extends ImageReading {
  /** Families named in the file, each once. */
  readonly families: readonly number[];
}

export const looksLikeUf2 = (file: Uint8Array): boolean =>
  file.length >= 4 && new DataView(file.buffer, file.byteOffset, 4).getUint32(0, true) === magics.first;

/** What the blocks before one have told. */
interface Uf2Blocks {
  readonly collector: ImageCollector;
  readonly families: Set<number>;
  /** Blocks the first one announced. */
  announced: number | undefined;
  /** A block does not read: it says enough by itself. */
  broken: boolean;
  /** Where each block number stands in the file. */
  readonly came: Map<number, number[]>;
}

/** Reads a UF2 file. Never throws: every fault is listed with the number of its block. */
export function readUf2(file: Uint8Array): Uf2Reading {
  const collector = new ImageCollector();
  const families = new Set<number>();
  const blocks: Uf2Blocks = {collector, families, announced: undefined, broken: false, came: new Map()};
  const whole = Math.floor(file.length / uf2BlockBytes);
  for (let line = 0; line < whole; line++) readBlock(file, line, blocks);
  checkEnd(file, blocks);
  const reading = collector.finish();
  const notes = [...reading.notes];
  if (families.size > 1)
    notes.push({
      line: 0,
      text: `Blocks for ${families.size} families: ${[...families].map((f) => '0x' + hexOf(f, 8)).join(', ')}.`,
    });
  return {...reading, notes, families: [...families]};
}

function readBlock(file: Uint8Array, line: number, blocks: Uf2Blocks): void {
  const {collector, families, came} = blocks;
  const block = new DataView(file.buffer, file.byteOffset + line * uf2BlockBytes, uf2BlockBytes);
  const word = (at: number) => block.getUint32(at, true);
  const bad = (text: string) => {
    blocks.broken = true;
    collector.fault({line, kind: 'bad-block', text});
  };
  if (word(0) !== magics.first || word(4) !== magics.second || word(508) !== magics.last)
    return bad('The block does not carry the magic words of UF2. The file is damaged.');
  const [flagged, start, length, number, count] = [word(8), word(12), word(16), word(20), word(24)];
  if (flagged & flags.family) families.add(word(28));
  blocks.announced ??= count;
  if (count !== blocks.announced || number >= count)
    return bad(`The block calls itself ${number} of ${count}; the file began with ${blocks.announced} blocks.`);
  came.set(number, [...(came.get(number) ?? []), line]);
  if (flagged & (flags.notForFlash | flags.container)) return;
  if (length > maxPayload) {
    const text = `The block announces ${length} bytes of payload; ${maxPayload} is the most.`;
    return collector.fault({line, kind: 'bad-length', text});
  }
  const at = file.byteOffset + line * uf2BlockBytes + 32;
  collector.add({start, bytes: new Uint8Array(file.buffer.slice(at, at + length)), line});
}

/** Whether the file ends where its blocks say. */
function checkEnd(file: Uint8Array, {collector, announced, broken, came}: Uf2Blocks): void {
  const whole = Math.floor(file.length / uf2BlockBytes);
  const rest = file.length % uf2BlockBytes;
  if (rest) {
    const text = `The last block has ${rest} of ${uf2BlockBytes} bytes. The file is cut off.`;
    collector.fault({line: whole, kind: 'bad-length', text});
  }
  if (announced !== undefined && whole < announced) {
    const text = `${whole} of ${announced} blocks came. The file is cut off.`;
    collector.fault({line: whole, kind: 'missing-end', text});
  } else if (announced !== undefined && !broken) checkNumbers(collector, came, announced);
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

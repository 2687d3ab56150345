/**
 * Bursts: speeds, throttle and current of all outputs as the flight controller keeps them, loop by loop, with its own clock.
 * A row is big-endian: µs since the burst began (u32), supply in 10 mV (u16), then for each output the 12 bits of its reply
 * (u16; 0xFFFF where none came), its DShot value (u16) and its phase current in 10 mA (i16; −32768 where it has no sense).
 */
import {crc32} from '../checksums';
import {valueThrottle} from '../dshot/command';
import {decodePeriod, erpmOfPeriod} from '../dshot/reply';
import {ProblemError, type Problem} from '../problem';
import type {BenchClient} from './client';
import {maxBurstBytes, maxBurstRows, type Burst} from './operations';

const headBytes = 6;
const outputBytes = 6;
export const noReplyWord = 0xffff;
export const noCurrentSense = -32_768;

/** Bytes of one row of so many outputs. */
export const burstRowBytes = (outputs: number): number => headBytes + outputBytes * outputs;

/** One output at one moment, as it is kept. */
interface BurstCell {
  /** Reply: exponent and mantissa of the period; {@link noReplyWord} where none came. */
  readonly reply: number;
  /** DShot value. */
  readonly value: number;
  /** Phase current in 10 mA; {@link noCurrentSense} where it is not measured. */
  readonly centiamps: number;
}

/** One moment of a burst. */
interface BurstRow {
  /** µs since the burst began. */
  readonly us: number;
  /** Supply, V. */
  readonly volts: number;
  readonly cells: readonly BurstCell[];
}

/** One row as its bytes. */
export function encodeBurstRow(row: BurstRow): Uint8Array {
  const bytes = new Uint8Array(burstRowBytes(row.cells.length));
  writeBurstRow(new DataView(bytes.buffer), 0, row);
  return bytes;
}

/** Writes the bytes of a row from `at` on. */
export function writeBurstRow(view: DataView, at: number, {us, volts, cells}: BurstRow): void {
  view.setUint32(at, us);
  view.setUint16(at + 4, Math.max(0, Math.min(0xffff, Math.round(volts * 100))));
  let cellAt = at + headBytes;
  for (const {reply, value, centiamps} of cells) {
    view.setUint16(cellAt, reply);
    view.setUint16(cellAt + 2, value);
    view.setInt16(cellAt + 4, Math.max(-32_767, Math.min(32_767, Math.round(centiamps))));
    cellAt += outputBytes;
  }
}

/** One output over a burst, one value per row. */
interface BurstOutput {
  /** Electrical rpm; NaN where no reply came. */
  readonly erpm: Float64Array;
  /** Commanded throttle, 0…1. */
  readonly throttle: Float64Array;
  /** Phase current, A; undefined where the ESC has no sense for it. */
  readonly amps: Float64Array | undefined;
}

export interface BurstTrace {
  /** s since the burst began, on the controller's clock. */
  readonly timeS: Float64Array;
  readonly volts: Float64Array;
  readonly outputs: readonly BurstOutput[];
}

/** The rows of a burst; `bytes` holds whole rows. */
export function decodeBurst(bytes: Uint8Array, outputs: number): BurstTrace {
  const rowBytes = burstRowBytes(outputs);
  const rows = Math.floor(bytes.length / rowBytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const column = (read: (at: number) => number) => {
    const values = new Float64Array(rows);
    for (let row = 0; row < rows; row++) values[row] = read(row * rowBytes);
    return values;
  };
  const output = (i: number): BurstOutput => {
    const at = headBytes + i * outputBytes;
    const senses = rows > 0 && view.getInt16(at + 4) !== noCurrentSense;
    return {
      erpm: column((row) => erpmOfWord(view.getUint16(row + at))),
      throttle: column((row) => valueThrottle(view.getUint16(row + at + 2))),
      amps: senses ? column((row) => view.getInt16(row + at + 4) / 100) : undefined,
    };
  };
  return {
    timeS: column((row) => view.getUint32(row) / 1e6),
    volts: column((row) => view.getUint16(row + 4) / 100),
    outputs: Array.from({length: outputs}, (_, i) => output(i)),
  };
}

const erpmOfWord = (word: number): number => (word === noReplyWord ? NaN : erpmOfPeriod(decodePeriod(word & 0xfff)));

interface ReadBurstOptions {
  readonly outputs: number;
  readonly onProgress?: (share: number) => void;
  readonly cancel?: {readonly aborted: boolean};
}

/** Attempts for a piece whose checksum does not match what came. */
const pieceAttempts = 3;

/**
 * Reads what a burst has kept so far, piece by piece, each checked. Rejects with "burst-spoilt" when a piece does not read,
 * "burst-cancelled" when cancelled, or with what the link says.
 */
export async function readBurst(
  client: BenchClient,
  {outputs, onProgress, cancel}: ReadBurstOptions,
): Promise<BurstTrace> {
  const burst = await client.request('burst.state', null);
  if (burst.rowBytes !== burstRowBytes(outputs)) throw new ProblemError(otherRows(burst, outputs));
  const perPiece = Math.min(maxBurstRows, Math.floor(maxBurstBytes / burst.rowBytes));
  const bytes = new Uint8Array(burst.kept * burst.rowBytes);
  for (let from = 0; from < burst.kept; from += perPiece) {
    if (cancel?.aborted) throw new ProblemError(cancelled);
    const count = Math.min(perPiece, burst.kept - from);
    bytes.set(await readPiece(client, {from, count, length: count * burst.rowBytes}), from * burst.rowBytes);
    onProgress?.((from + count) / burst.kept);
  }
  return decodeBurst(bytes, outputs);
}

async function readPiece(
  client: BenchClient,
  {from, count, length}: {readonly from: number; readonly count: number; readonly length: number},
): Promise<Uint8Array> {
  for (let attempt = 0; attempt < pieceAttempts; attempt++) {
    const piece = await client.request('burst.read', {from, count});
    if (piece.bytes.length === length && crc32(piece.bytes) === piece.crc32) return piece.bytes;
  }
  throw new ProblemError(spoilt(from));
}

const spoilt = (from: number): Problem => ({
  code: 'burst-spoilt',
  place: `burst, row ${from + 1}`,
  meaning: `The controller sent this piece ${pieceAttempts} times and its checksum never matched.`,
  remedy: 'Measure again; if it happens again, check the cable and the controller.',
});

const otherRows = ({rowBytes}: Burst, outputs: number): Problem => ({
  code: 'burst-rows',
  place: 'burst',
  meaning: `The controller keeps rows of ${rowBytes} bytes; ${outputs} outputs take ${burstRowBytes(outputs)}.`,
  remedy: 'Check how many outputs the controller has, and connect again.',
});

const cancelled: Problem = {
  code: 'burst-cancelled',
  place: 'burst',
  meaning: 'Reading the burst was cancelled. The controller still keeps it.',
  remedy: 'Read it again, or measure again.',
};

/** Reading and writing one ESC's flash over the bench link, in pieces the link allows. */
import {crc32} from '../checksums';
import {chunkBytes, type Chip} from '../firmware/chips';
import type {BenchClient} from '../link/client';
import {addressText} from '../hex';
import {ProblemError} from '../problem';

/** The way to one ESC: the output of the bench it hangs on, and what texts call it. */
export interface EscWire {
  readonly client: BenchClient;
  /** Output as the bench link counts: the motor's through a flight controller, 0 on a single-wire adapter. */
  readonly wire: number;
  /** "motor 3", "arm 3". */
  readonly name: string;
}

/** Smallest piece that is tried when a link drops long transfers, bytes. */
const smallestChunk = 32;
/** Piece size that works on a link, found by trying; links that were never in trouble are not in it. */
const workingChunks = new WeakMap<BenchClient, number>();

/**
 * Runs `transfer` with the largest piece the link lets through. A bad hub drops long transfers whole, so when one stays
 * unanswered the pieces are halved; the size that worked is kept for the link.
 */
async function withChunks<T>(client: BenchClient, transfer: (size: number) => Promise<T>): Promise<T> {
  for (let size = workingChunks.get(client) ?? chunkBytes; ; size /= 2) {
    try {
      const result = await transfer(size);
      if (size < chunkBytes) workingChunks.set(client, size);
      return result;
    } catch (error) {
      const unanswered = error instanceof ProblemError && error.problem.code === 'unanswered';
      if (!unanswered || client.isClosed || size / 2 < smallestChunk) throw error;
      // Something shorter must get through, else the link is dead and not just bad at long transfers.
      await client.request('power', null);
    }
  }
}

/** Fresh bytes of flash. */
export async function readFlash(
  {client, wire, name}: EscWire,
  address: number,
  length: number,
  onShare?: (share: number) => void,
): Promise<Uint8Array> {
  const bytes = new Uint8Array(length);
  for (let at = 0; at < length;) {
    const part = await withChunks(client, async (size) => {
      const asked = Math.min(size, length - at);
      const got = await client.request('esc.read', {output: wire, address: address + at, length: asked});
      // Fewer or more is no answer to what was asked: less than a byte would be asked for ever, more would not fit.
      if (got.length !== asked) throw wrongLength(name, {address: address + at, asked, got: got.length});
      return got;
    });
    bytes.set(part, at);
    at += part.length;
    onShare?.(at / length);
  }
  return bytes;
}

export function erasePage({client, wire}: EscWire, address: number): Promise<null> {
  return client.request('esc.erase', {output: wire, address});
}

/**
 * Erases one page, writes it with two pieces on the way so that the wire stays busy, and checks it: by the
 * bootloader's checksum where it can compute one, else by reading it back.
 * @param onBytes called with the bytes of the page that are written, as they arrive.
 */
export async function writePage(
  wire: EscWire,
  chip: Chip,
  page: {readonly address: number; readonly bytes: Uint8Array},
  onBytes?: (written: number) => void,
): Promise<void> {
  const {address, bytes} = page;
  await withChunks(wire.client, async (size) => {
    await erasePage(wire, address);
    await writePieces(wire, address, bytes, {size, onBytes});
  });
  if ((await pageChecksum(wire, chip, address)) === crc32(bytes)) return;
  throw new ProblemError({
    code: 'page-check',
    place: `${wire.name}, page ${addressText(address)}`,
    meaning: 'The page does not hold what was written.',
    remedy: 'Resume: the page is written again. If it fails again the flash is worn and the ESC must be replaced.',
  });
}

async function writePieces(
  {client, wire}: EscWire,
  address: number,
  bytes: Uint8Array,
  {size, onBytes}: {size: number; onBytes: ((written: number) => void) | undefined},
): Promise<void> {
  let ahead: Promise<null> | undefined;
  for (let at = 0; at < bytes.length; at += size) {
    const next = client.request('esc.write', {output: wire, address: address + at, bytes: bytes.slice(at, at + size)});
    // A failure of the piece before is thrown first; until then this one must not count as unhandled.
    next.catch(() => undefined);
    try {
      await ahead;
    } catch (error) {
      // The piece behind the failed one is on its way too: nothing may be written after this has failed.
      await Promise.allSettled([next]);
      throw error;
    }
    onBytes?.(at);
    ahead = next;
  }
  await ahead;
  onBytes?.(bytes.length);
}

/** CRC-32 of one page. */
export async function pageChecksum(wire: EscWire, chip: Chip, address: number): Promise<number> {
  const {client, wire: output} = wire;
  return chip.canChecksum
    ? client.request('esc.checksum', {output, address, length: chip.pageBytes})
    : crc32(await readFlash(wire, address, chip.pageBytes));
}

const wrongLength = (name: string, {address, asked, got}: {address: number; asked: number; got: number}) =>
  new ProblemError({
    code: 'protocol-error',
    place: `${name}, address ${addressText(address)}`,
    meaning: `${asked} bytes were requested; the bench answered with ${got}.`,
    remedy: 'Update the adapter: an answer of this length is not in the bench link.',
  });

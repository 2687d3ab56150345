/** Reading and writing one ESC's flash over the bench link, in pieces the link allows. */
import {crc32} from '../checksums';
import {chunkBytes, type Chip} from '../firmware/chips';
import type {BenchClient} from '../link/client';
import {ProblemError} from '../problem';

/** Fresh bytes of flash. */
export async function readFlash(
  client: BenchClient,
  output: number,
  address: number,
  length: number,
): Promise<Uint8Array> {
  const bytes = new Uint8Array(length);
  for (let at = 0; at < length; at += chunkBytes) {
    const part = await client.request('esc.read', {
      output,
      address: address + at,
      length: Math.min(chunkBytes, length - at),
    });
    bytes.set(part, at);
  }
  return bytes;
}

export function erasePage(client: BenchClient, output: number, address: number): Promise<null> {
  return client.request('esc.erase', {output, address});
}

/**
 * Erases one page, writes it with two chunks on the way so that the wire stays busy, and checks it: by the
 * bootloader's checksum where it can compute one, else by reading it back.
 */
export async function writePage(
  client: BenchClient,
  chip: Chip,
  output: number,
  address: number,
  bytes: Uint8Array,
): Promise<void> {
  await erasePage(client, output, address);
  let ahead: Promise<null> | undefined;
  for (let at = 0; at < bytes.length; at += chunkBytes) {
    const next = client.request('esc.write', {
      output,
      address: address + at,
      bytes: bytes.slice(at, at + chunkBytes),
    });
    // A failure of the chunk before is thrown below; until then this one must not count as unhandled.
    next.catch(() => undefined);
    await ahead;
    ahead = next;
  }
  await ahead;
  if ((await pageChecksum(client, chip, output, address)) === crc32(bytes)) return;
  throw new ProblemError({
    code: 'page-check',
    place: `motor ${output + 1}, page 0x${address.toString(16).toUpperCase()}`,
    meaning: 'The page does not hold what was written.',
    remedy: 'Resume: the page is written again. If it fails again the flash is worn and the ESC must be replaced.',
  });
}

/** CRC-32 of one page. */
export async function pageChecksum(client: BenchClient, chip: Chip, output: number, address: number): Promise<number> {
  return chip.canChecksum
    ? client.request('esc.checksum', {output, address, length: chip.pageBytes})
    : crc32(await readFlash(client, output, address, chip.pageBytes));
}

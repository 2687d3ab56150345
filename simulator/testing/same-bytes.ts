/** Bytes held against bytes, at the speed of memory, and with the first difference named. */
import {hexOf} from '@core/hex';

/** Throws where two runs of bytes differ, with the first address that does. */
export function expectSameBytes(found: Uint8Array, wanted: Uint8Array, what = 'bytes'): void {
  if (Buffer.compare(found, wanted) === 0) return;
  const at = wanted.findIndex((byte, i) => byte !== found[i]);
  const first = at < 0 ? Math.min(found.length, wanted.length) : at;
  const shown = (bytes: Uint8Array) => (first < bytes.length ? hexOf(bytes[first]!, 2) : 'nothing');
  throw new Error(
    `${what}: at 0x${hexOf(first, 4)} there is ${shown(found)}, ${shown(wanted)} is wanted (${found.length} and ${wanted.length} bytes)`,
  );
}

/** Small damage to a file, as cables, disks and hands make it. */
import type {Random} from '@simulator/random';

/** One to four edits: bytes changed, put in, cut out, or a piece told twice. */
export function mutate(random: Random, seed: Uint8Array): Uint8Array {
  let bytes = [...seed];
  const edits = 1 + random.below(4);
  for (let i = 0; i < edits; i++) {
    const at = random.below(bytes.length + 1);
    const length = random.below(8);
    switch (random.below(5)) {
      case 0:
        if (at < bytes.length) bytes[at] = random.below(256);
        break;
      case 1:
        bytes.splice(at, 0, ...random.bytes(length));
        break;
      case 2:
        bytes.splice(at, length);
        break;
      case 3:
        bytes.splice(at, 0, ...bytes.slice(0, random.below(200)));
        break;
      default:
        bytes = bytes.slice(0, at);
    }
  }
  return Uint8Array.from(bytes);
}

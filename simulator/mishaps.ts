/** Faults on the cable: bytes that get lost or flipped, with a seeded chance each. */
import type {Random} from './random';

export class Mishaps {
  /** Chance that a byte is lost, 0…1. */
  loss = 0;
  /** Chance that a byte has one bit flipped, 0…1. */
  flips = 0;

  constructor(private readonly random: Random) {}

  /** The bytes as they arrive: the same array when all is well, else a fresh one. */
  spoil(bytes: Uint8Array): Uint8Array {
    if (this.loss === 0 && this.flips === 0) return bytes;
    const out: number[] = [];
    for (const byte of bytes) {
      if (this.random.next() < this.loss) continue;
      out.push(this.random.next() < this.flips ? byte ^ (1 << this.random.below(8)) : byte);
    }
    return Uint8Array.from(out);
  }
}

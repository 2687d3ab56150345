/** Faults on the cable: bytes that get lost or flipped, with a seeded chance each. */
import type {Random} from '../../random';

export class Mishaps {
  /** Chance that a byte is lost, 0…1. */
  loss = 0;
  /** Chance that a byte has one bit flipped, 0…1. */
  flips = 0;
  /** Chance that a byte arrives twice, 0…1. */
  doubles = 0;
  /** Chance that a whole transfer of the client arrives once more, up to `echoMs` later, 0…1. */
  echoes = 0;
  echoMs = 4_000;
  /** An adapter that keeps 64 answers of changes only: copies that come later are carried out again. */
  forgetful = false;
  /** Longest transfer that gets through, bytes: a bad USB hub drops longer ones whole. */
  longest = Infinity;

  private passed = 0;
  private watched: {readonly at: number; readonly callback: () => void}[] = [];

  constructor(private readonly random: Random) {}

  /** Calls back when this many more bytes have passed the cable, either way. */
  afterBytes(count: number, callback: () => void): void {
    this.watched.push({at: this.passed + count, callback});
  }

  private count(bytes: number): void {
    this.passed += bytes;
    const due = this.watched.filter((w) => w.at <= this.passed);
    if (!due.length) return;
    this.watched = this.watched.filter((w) => w.at > this.passed);
    for (const {callback} of due) callback();
  }

  /** How much later these bytes arrive a second time, ms; undefined when they do not. */
  echo(): number | undefined {
    return this.echoes > 0 && this.random.next() < this.echoes ? this.random.next() * this.echoMs : undefined;
  }

  /** The bytes as they arrive: the same array when all is well, else a fresh one. */
  spoil(bytes: Uint8Array): Uint8Array {
    this.count(bytes.length);
    if (bytes.length > this.longest) return new Uint8Array(0);
    if (this.loss === 0 && this.flips === 0 && this.doubles === 0) return bytes;
    const out: number[] = [];
    for (const byte of bytes) {
      if (this.random.next() < this.loss) continue;
      out.push(this.random.next() < this.flips ? byte ^ (1 << this.random.below(8)) : byte);
      if (this.random.next() < this.doubles) out.push(out.at(-1)!);
    }
    return Uint8Array.from(out);
  }
}

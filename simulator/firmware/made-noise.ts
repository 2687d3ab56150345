/** Noise that invented firmware is made of: the same bytes for the same seed, drawn once. */
import {Random} from '../random';

const drawn = new Map<string, Uint8Array>();

/** Not to be written to. */
export function madeNoise(seed: number, length: number): Uint8Array {
  const key = `${seed}:${length}`;
  const known = drawn.get(key) ?? new Random(seed).bytes(length);
  drawn.set(key, known);
  return known;
}

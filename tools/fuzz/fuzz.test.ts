/** The fuzz in small. `bidex fuzz --runs 200000 --of …` is the large one. */
import {describe, expect, it} from 'vitest';
import {fuzz, fuzzKinds} from './fuzz';

describe('mutated input', () => {
  it.each(fuzzKinds)('%s: nothing throws or grows, and the mutations bite', async (kind) => {
    const report = await fuzz(kind, {runs: 300, seed: 20261126});
    expect(report).toMatchObject({runs: 300, throws: 0, tooLarge: 0});
    expect(report.withFaults).toBeGreaterThan(150);
    expect(report.slowestMs).toBeLessThan(2_000);
  });

  it('of a kind that nobody knows is a wrong call', async () => {
    await expect(fuzz('toString', {runs: 1, seed: 1})).rejects.toThrow('There is nothing called "toString" to fuzz');
  });
});

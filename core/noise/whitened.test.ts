import fc from 'fast-check';
import {expect, it} from 'vitest';
import {whitened} from './whitened';

it('takes the median of the neighbourhood from every bin, as a sort of each would', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({min: -100, max: 100, noNaN: true}), {minLength: 1, maxLength: 60}),
      fc.integer({min: 1, max: 20}),
      (values, half) => {
        const db = Float64Array.from(values);
        const sorted = (k: number) => [...db.slice(Math.max(0, k - half), k + half + 1)].sort((a, b) => a - b);
        const wanted = values.map((v, k) => v - sorted(k)[sorted(k).length >> 1]!);
        expect([...whitened(db, half)]).toEqual(wanted);
      },
    ),
    {seed: 12, numRuns: 200},
  );
});

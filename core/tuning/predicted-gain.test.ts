import {describe, expect, it} from 'vitest';
import type {Forecast} from './forecast';
import {gainText, predictedGain} from './predicted-gain';

/** A forecast whose three axes hold so much from 80 Hz up, in any unit. */
const of = (asFlown: number, left: number): Forecast => {
  const axes = (level: number) => [0, 1, 2].map(() => new Float64Array(200).fill(level ** 2));
  return {asFlown: axes(asFlown), left: axes(left), stepHz: 2} as unknown as Forecast;
};

describe('what planned filters gain', () => {
  it('is told against what flies now, not against no filters', () => {
    const gain = predictedGain(of(10, 0.98), of(10, 1));
    expect(gain.against).toBe('now');
    expect(gainText(gain)).toBe('2 % less noise (0.2 dB) than with the filters that fly now');
  });

  it('without known filters is told against none', () =>
    expect(gainText(predictedGain(of(10, 1), undefined))).toBe('90 % less noise (20.0 dB) than without any filters'));

  it('says where it is nothing, and where it is more', () => {
    expect(gainText(predictedGain(of(10, 1), of(10, 1.004)))).toBe('as much noise as with the filters that fly now');
    expect(gainText(predictedGain(of(10, 1.3), of(10, 1)))).toBe('30 % more noise than with the filters that fly now');
  });
});

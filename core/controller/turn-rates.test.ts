/** Turn rates against computations of their own: the formula by logarithms, its slope by differences, and its ends. */
import {describe, expect, it} from 'vitest';
import {perMicrosecond, rateAt, slopeAt, turnRateIn, type TurnRate} from './turn-rates';

const drawn: TurnRate[] = Array.from({length: 60}, (_, i) => ({
  ...{centre: 50 + ((i * 37) % 500), highest: 300 + ((i * 91) % 1200), curve: ((i * 13) % 101) / 100},
}));
/** By logarithms: x^p = exp(p·ln x). */
const byLogarithms = ({centre, highest, curve}: TurnRate, x: number) =>
  x === 0 ? 0 : centre * x + (highest - centre) * Math.exp((2 + 4 * curve) * Math.log(x));

describe('a turn rate', () => {
  it.each(drawn)('is the formula at every place of the stick, and turns the other way alike: %j', (rate) => {
    for (let x = 0; x <= 1; x += 0.05) {
      expect(rateAt(rate, x)).toBeCloseTo(byLogarithms(rate, x), 6);
      expect(rateAt(rate, -x)).toBeCloseTo(-byLogarithms(rate, x), 6);
      // The slope by differences of the rate itself.
      const [a, b] = [Math.max(0, x - 1e-4), Math.min(1, x + 1e-4)];
      expect(slopeAt(rate, (a + b) / 2)).toBeCloseTo((byLogarithms(rate, b) - byLogarithms(rate, a)) / (b - a), 0);
    }
    expect(rateAt(rate, 1)).toBe(rate.highest);
    expect(rateAt(rate, 7)).toBe(rate.highest);
    expect(slopeAt(rate, 0)).toBe(rate.centre);
  });

  it('reads from settings, and not where a firmware has none', () => {
    const values = {'rates.roll_centre': 200, 'rates.roll_highest': 670, 'rates.roll_curve': 50};
    expect(turnRateIn(values, 'roll')).toEqual({centre: 200, highest: 670, curve: 0.5});
    expect(turnRateIn(values, 'yaw')).toBeUndefined();
    // 200 deg/s over 500 µs of half the throw.
    expect(perMicrosecond({centre: 200, highest: 670, curve: 0.5}, 0)).toBeCloseTo(0.4, 9);
  });
});

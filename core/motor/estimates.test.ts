/** Estimates from a label against motors drawn as they are built: the truth lies within the bounds as often as they claim. */
import {describe, expect, it} from 'vitest';
import {drawMotor, motorClasses, type DrawnMotor} from '@simulator/benches/draw-motor';
import {Random} from '@simulator/random';
import {
  estimateBellInertia,
  estimateCogging,
  estimateFriction,
  estimateInductance,
  estimateResistance,
  readStatorSize,
  type RoughEstimate,
} from './estimates';

const drawn = Array.from({length: 40}, (_, i) => new Random(900 + i)).flatMap((random) =>
  motorClasses.map((of) => drawMotor(of, random)),
);

const estimates: Readonly<Record<string, (motor: DrawnMotor) => readonly [truth: number, estimate: RoughEstimate]>> = {
  resistance: (m) => [m.resistanceOhm, estimateResistance(readStatorSize(m.size)!, m.kv)],
  inductance: (m) => [m.inductanceH, estimateInductance(readStatorSize(m.size)!, m.resistanceOhm)],
  friction: (m) => [m.friction, estimateFriction(readStatorSize(m.size)!)],
  cogging: (m) => [m.cogging, estimateCogging(readStatorSize(m.size)!)],
  'bell inertia': (m) => [m.inertia, estimateBellInertia(readStatorSize(m.size)!)],
};

describe(`${drawn.length} drawn motors of ${motorClasses.length} classes`, () => {
  it.each(Object.entries(estimates))('%s lies within its bounds for 19 of 20, and not in all', (_, estimate) => {
    const inside = drawn.filter((motor) => {
      const [truth, {value, factor}] = estimate(motor);
      return truth > value / factor && truth < value * factor;
    });
    // 95 % of 440, with three standard deviations of chance on either side.
    expect(inside.length / drawn.length).toBeGreaterThan(0.92);
    expect(inside.length / drawn.length).toBeLessThan(0.995);
  });

  it('and class by class no estimate is off one way by as much as its factor', () => {
    for (const of of motorClasses)
      for (const [name, estimate] of Object.entries(estimates)) {
        const own = drawn.filter((m) => m.size === of.size).map(estimate);
        const middle = own.map(([truth, e]) => Math.log(truth / e.value) / Math.log(e.factor)).sort((a, b) => a - b);
        expect(Math.abs(middle[middle.length >> 1]!), `${name} of ${of.size}`).toBeLessThan(0.95);
      }
  });
});

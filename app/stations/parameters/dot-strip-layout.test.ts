import {describe, expect, it} from 'vitest';
import * as fc from 'fast-check';
import {joinedMotors, longestMark, placeMarks, type MotorValue} from './dot-strip-layout';

const at = (xs: readonly number[], off: readonly number[] = []): MotorValue[] =>
  xs.map((x, motor) => ({motor, x, off: off.includes(motor)}));

describe('dot strip', () => {
  it('four equal motors are one joined mark, centred on the value', () => {
    expect(placeMarks(at([100, 100, 100, 100]))).toMatchObject([{text: '1–4', x: 100, row: 0, motors: [0, 1, 2, 3]}]);
  });

  it('only true differences stand apart', () => {
    expect(placeMarks(at([100, 100, 150, 100], [2])).map((m) => [m.text, m.x, m.off])).toEqual([
      ['3', 150, true],
      ['1,2,4', 100, false],
    ]);
  });

  it('stacks neighbours that would cover each other, and moves none sideways', () => {
    const marks = placeMarks(at([100, 105, 200]));
    expect(marks.map((m) => [m.x, m.row])).toEqual([
      [100, 0],
      [105, 1],
      [200, 0],
    ]);
  });

  it('one value, part of it off the plan of its motor: two marks, one above the other', () => {
    expect(placeMarks(at([80, 80, 80], [1])).map((m) => [m.text, m.x, m.row, m.off])).toEqual([
      ['2', 80, 0, true],
      ['1,3', 80, 1, false],
    ]);
  });

  it.each([
    [[0, 1, 2, 3], '1–4'],
    [[0, 1], '1,2'],
    [[0, 1, 2, 5], '1–3,6'],
    [[0, 2, 4, 6], '1,3,5,7'],
    [[0, 1, 2, 3, 4, 5, 6, 7], '1–8'],
  ])('%j reads %s', (motors, text) => expect(joinedMotors(motors)).toBe(text));

  it('every mark of up to eight motors stands on its value, none covers another, each motor is shown once', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({min: 24, max: 238}), {minLength: 1, maxLength: 8}), (xs) => {
        const marks = placeMarks(at(xs));
        expect(marks.flatMap((m) => m.motors).sort()).toEqual(xs.map((_, i) => i));
        for (const mark of marks) {
          for (const motor of mark.motors) expect(mark.x).toBe(xs[motor]);
          expect(mark.width).toBeLessThanOrEqual(longestMark);
          for (const other of marks)
            if (mark !== other && mark.row === other.row)
              expect(Math.abs(mark.x - other.x)).toBeGreaterThanOrEqual((mark.width + other.width) / 2 - 1e-9);
        }
      }),
      {seed: 7},
    );
  });
});

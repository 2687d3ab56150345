import {describe, expect, it} from 'vitest';
import {joinValues, setOnMotors, splitValue} from './plan-values';

const held = [15, undefined, 30];

describe('a planned value', () => {
  it('splits into one per motor: the plan first, then what the motor holds, then the fallback', () => {
    expect(splitValue({kind: 'same', value: 22.5}, held, 0)).toEqual({kind: 'per motor', values: [22.5, 22.5, 22.5]});
    expect(splitValue({kind: 'calibrated'}, held, 7.5)).toEqual({kind: 'per motor', values: [15, 7.5, 30]});
    expect(splitValue({kind: 'per motor', values: [0]}, held, 7.5)).toEqual({kind: 'per motor', values: [0, 7.5, 30]});
  });

  it('is set on some motors and leaves the others', () =>
    expect(setOnMotors({kind: 'same', value: 15}, {value: 30, motors: [1], held})).toEqual({
      kind: 'per motor',
      values: [15, 30, 15],
    }));

  it('becomes one value again when all are equal', () => {
    expect(setOnMotors({kind: 'per motor', values: [15, 30, 15]}, {value: 15, motors: [1], held})).toEqual({
      kind: 'same',
      value: 15,
    });
    expect(joinValues([])).toEqual({kind: 'per motor', values: []});
  });
});

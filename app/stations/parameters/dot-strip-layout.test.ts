import {describe, expect, it} from 'vitest';
import * as fc from 'fast-check';
import {spreadMarks} from './dot-strip-layout';

describe('dot strip', () => {
  const room = {from: 8, to: 254};

  it('puts equal values side by side around their place', () => {
    expect(spreadMarks([100, 100], 13, room).map((m) => [m.motor, m.x, m.row])).toEqual([
      [0, 93.5, 0],
      [1, 106.5, 0],
    ]);
  });

  it('stacks neighbours that would cover each other', () => {
    expect(spreadMarks([100, 105, 200], 13, room).map((m) => m.row)).toEqual([0, 1, 0]);
  });

  it('keeps a large group off the value beside it: what has no room goes into a second row', () => {
    const marks = spreadMarks([100, 100, 138, 138, 138, 138, 138, 138], 13, room);
    const ofSecond = marks.filter((m) => m.motor >= 2);
    expect(Math.min(...ofSecond.map((m) => m.x))).toBeGreaterThan(109);
    expect(Math.max(...marks.map((m) => m.row))).toBe(1);
    for (const m of marks.filter((mark) => mark.motor < 2)) expect(Math.abs(m.x - 100)).toBeLessThan(7);
  });

  it('shows up to eight motors once each, none covering another, none outside', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({min: 8, max: 254}), {minLength: 1, maxLength: 8}), (xs) => {
        const marks = spreadMarks(xs, 13, room);
        expect(marks.map((m) => m.motor).sort()).toEqual(xs.map((_, i) => i));
        for (const a of marks) {
          expect(a.x).toBeGreaterThanOrEqual(room.from);
          expect(a.x).toBeLessThanOrEqual(room.to);
          for (const b of marks)
            if (a !== b && a.row === b.row) expect(Math.abs(a.x - b.x)).toBeGreaterThanOrEqual(12.9);
        }
      }),
      {seed: 7},
    );
  });
});

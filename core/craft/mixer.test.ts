/** The mixer against numpy.linalg.pinv (fixtures/make-mixer.py) and what any text on multirotors says of an X frame. */
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/mixer.json';
import {alder} from '@demo/craft/alder';
import {demoFleet} from '@demo/craft/fleet';
import {airframe} from './airframes';
import {wantedDirections, type Arm, type RotationDirection} from './craft';
import {mixerAxes, mixerOf, sticksToMotors} from './mixer';
import {mixerCsv} from './mixer-text';

const senseOf = (clockwise: boolean): RotationDirection => (clockwise ? 'clockwise' : 'counter-clockwise');
const alternating = (arms: readonly Arm[]) => arms.map((_, i) => senseOf(i % 2 === 0));
const still = {throttle: 0, roll: 0, pitch: 0, yaw: 0};

describe('against numpy', () => {
  it.each(Object.entries(reference.frames))('%s, column by column', (_, frame) => {
    const arms = frame.arms.map(([xMm, yMm], i) => ({name: String(i), xMm: xMm!, yMm: yMm!}));
    const {rows, useless} = mixerOf(arms, frame.clockwise.map(senseOf));
    rows.forEach((row, m) =>
      mixerAxes.forEach((axis, a) =>
        expect(row[axis], `${axis} of motor ${m + 1}`).toBeCloseTo(frame.mixer[m]![a]!, 6),
      ),
    );
    expect(useless).toEqual([]);
  });
});

describe('a quad X, props out', () => {
  const arms = airframe('quad X', 226);
  const directions = wantedDirections({arms, props: 'out'});
  const {rows, authority} = mixerOf(arms, directions);
  it('has ±1 everywhere: roll to the right by the left motors, nose up by the front ones (any text)', () => {
    // front right, rear right, rear left, front left
    expect(rows.map((r) => Math.round(r.roll))).toEqual([-1, -1, 1, 1]);
    expect(rows.map((r) => Math.round(r.pitch))).toEqual([1, -1, -1, 1]);
    expect(rows.every((r) => Math.abs(Math.abs(r.yaw) - 1) < 1e-9 && Math.abs(r.throttle - 1) < 1e-9)).toBe(true);
  });
  it('turns to the right by the motors that turn counter-clockwise: the craft is turned against its propellers', () =>
    rows.forEach((r, m) => expect(r.yaw > 0).toBe(directions[m] === 'counter-clockwise')));
  it('has the lever of its arms, 80 mm about roll and pitch', () => {
    expect(authority.roll).toBeCloseTo(80, 6);
    expect(authority.pitch).toBeCloseTo(80, 6);
    expect(authority.yaw).toBeCloseTo(1, 9);
  });
  it('sticks: full roll at half throttle opens the left motors and shuts the right ones', () =>
    expect(
      sticksToMotors(mixerOf(arms, directions), {...still, throttle: 0.5, roll: 0.5}).map((t) => Number(t.toFixed(9))),
    ).toEqual([0, 0, 1, 1]));
});

describe('any airframe', () => {
  it.each(demoFleet)('$name has no useless axis, and each command moves its own axis only', (craft) => {
    const mixer = mixerOf(craft.arms, wantedDirections(craft));
    expect(mixer.useless).toEqual([]);
    const sum = (axis: 'roll' | 'pitch' | 'yaw', of: (arm: Arm, m: number) => number) =>
      mixer.rows.reduce((total, row, m) => total + row[axis] * of(craft.arms[m]!, m), 0);
    for (const axis of ['roll', 'pitch', 'yaw'] as const) {
      expect(sum(axis, () => 1)).toBeCloseTo(0, 6);
      if (axis !== 'roll') expect(sum(axis, (a) => a.xMm)).toBeCloseTo(0, 6);
      if (axis !== 'pitch') expect(sum(axis, (a) => a.yMm)).toBeCloseTo(0, 6);
    }
  });
  it('four motors that turn one way cannot yaw; a row of motors cannot roll', () => {
    const arms = airframe('quad X', 226);
    expect(
      mixerOf(
        arms,
        arms.map(() => 'clockwise'),
      ).useless,
    ).toEqual(['yaw']);
    const row = [-100, -30, 40, 90].map((yMm, i) => ({name: String(i), xMm: 0, yMm}));
    const inRow = mixerOf(row, alternating(row));
    expect(inRow.useless).toContain('roll');
    expect(inRow.rows.every((r) => r.roll === 0)).toBe(true);
  });
  it('is written as CSV, a line per arm, names with commas in quotes', () => {
    const arms = alder.arms.map((a, i) => (i ? a : {...a, name: 'front, right'}));
    const csv = mixerCsv(mixerOf(arms, wantedDirections({...alder, arms})), arms)
      .trim()
      .split('\n');
    expect(csv[0]).toBe('arm,throttle,roll,pitch,yaw');
    expect(csv[1]).toMatch(/^"front, right",1\.0000,-0\.5000,1\.0000,/);
    expect(csv).toHaveLength(7);
  });
});

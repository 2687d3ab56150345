import {describe, expect, it} from 'vitest';
import {craftSchema, plannedFor, wantedDirections, type Craft} from './craft';
import {juniper} from '@demo/craft/juniper';

const ring = (arms: number, turn: number): Craft['arms'] =>
  Array.from({length: arms}, (_, i) => {
    const angle = ((i + turn) * 2 * Math.PI) / arms;
    return {name: `arm ${i + 1}`, xMm: Math.round(100 * Math.sin(angle)), yMm: Math.round(100 * Math.cos(angle))};
  });

describe('which way an arm turns', () => {
  it('props out: front right clockwise, its neighbours the other way', () => {
    expect(wantedDirections(juniper)).toEqual(['clockwise', 'counter-clockwise', 'clockwise', 'counter-clockwise']);
  });

  it('props in is the mirror of props out', () => {
    const flip = wantedDirections({...juniper, props: 'in'}).map((s) =>
      s === 'clockwise' ? 'counter-clockwise' : 'clockwise',
    );
    expect(flip).toEqual(wantedDirections(juniper));
  });

  it.each([4, 6, 8])('%i arms: neighbours alternate, torques cancel', (arms) => {
    const directions = wantedDirections({props: 'out', arms: ring(arms, 0.5)});
    directions.forEach((sense, i) => expect(sense).not.toBe(directions[(i + 1) % arms]));
    expect(directions.filter((s) => s === 'clockwise')).toHaveLength(arms / 2);
  });

  it('follows the place of an arm, not its number', () => {
    const arms = [juniper.arms[2]!, juniper.arms[3]!, juniper.arms[0]!, juniper.arms[1]!];
    expect(wantedDirections({props: 'out', arms})).toEqual([
      'clockwise',
      'counter-clockwise',
      'clockwise',
      'counter-clockwise',
    ]);
  });
});

describe('a planned value', () => {
  it('is the same for all, one per motor, or left to calibration', () => {
    expect(plannedFor({kind: 'same', value: 7}, 3)).toBe(7);
    expect(plannedFor({kind: 'per motor', values: [1, 2]}, 1)).toBe(2);
    expect(plannedFor({kind: 'per motor', values: [1, 2]}, 2)).toBeUndefined();
    expect(plannedFor({kind: 'calibrated'}, 0)).toBeUndefined();
    expect(plannedFor(undefined, 0)).toBeUndefined();
  });
});

describe('the shape of a craft', () => {
  const fault = (over: object) => craftSchema.safeParse({...juniper, ...over}).error?.issues[0]?.path.join('.');
  it('holds for Juniper', () => expect(craftSchema.parse(juniper)).toEqual(juniper));
  it.each([
    ['name', {name: ''}],
    ['motor.poles', {motor: {...juniper.motor, poles: 13}}],
    ['motor.kv', {motor: {...juniper.motor, kv: -1}}],
    ['battery.cells', {battery: {cells: 0, capacityMah: 1}}],
    ['props', {props: 'sideways'}],
    ['arms', {arms: []}],
    ['plan.controller.notchQ', {plan: {...juniper.plan, controller: {...juniper.plan.controller, notchQ: 0}}}],
  ])('refuses a bad %s', (path, over) => expect(fault(over)).toBe(path));
});

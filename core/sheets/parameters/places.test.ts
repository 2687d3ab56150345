import {describe, expect, it} from 'vitest';
import type {SettingKind} from '../../link/setting-shapes';
import {placesOf, withPlace} from './places';

const kind: SettingKind = {
  of: 'table',
  most: 9,
  columns: [
    {name: 'what', kind: {of: 'text', longest: 24}},
    {name: 'x', kind: {of: 'number', min: 0, max: 29}},
    {name: 'y', kind: {of: 'number', min: 1, max: 16}},
    {name: 'shown', kind: {of: 'truth'}},
  ],
};
const thing = (what: string, x: number, y: number, shown = true) => ({what, x, y, shown});

describe('a map of places', () => {
  it('has the columns and rows of the screen, counted from 0 wherever the firmware begins', () => {
    const map = placesOf(kind, [thing('battery', 3, 1), thing('clock', 29, 16, false)])!;
    expect([map.columns, map.rows]).toEqual([30, 16]);
    expect(map.marks.map(({x, y, isShown}) => [x, y, isShown])).toEqual([
      [3, 0, true],
      [29, 15, false],
    ]);
    expect(map.marks[1]!.spoken).toBe('clock, column 30 of 30, row 16 of 16, not shown');
  });

  it('names what is shown over each other, and nothing that is hidden', () => {
    const value = [thing('battery', 3, 4), thing('current', 5, 4), thing('clock', 4, 4, false), thing('signal', 6, 5)];
    const map = placesOf(kind, value)!;
    expect(map.overlaps).toBe('battery, current');
    expect(map.marks.map((m) => m.isCovered)).toEqual([true, true, false, false]);
  });

  it('moves one thing and leaves the others, on the screen', () => {
    const value = [thing('battery', 3, 4), thing('current', 5, 4)];
    expect(withPlace(kind, value, {row: 1, x: 7, y: 0})).toEqual([thing('battery', 3, 4), thing('current', 7, 1)]);
    expect(withPlace(kind, value, {row: 0, x: -4, y: 99})).toEqual([thing('battery', 0, 16), thing('current', 5, 4)]);
  });

  it.each([
    ['a number', {of: 'number', min: 0, max: 5}, 3],
    ['a table without places', {of: 'table', most: 3, columns: [{name: 'x', kind: {of: 'text', longest: 3}}]}, []],
    ['a list', {of: 'list', most: 3, each: {of: 'number', min: 0, max: 5}}, [1]],
  ] as const)('%s is none', (_, other, value) => {
    expect(placesOf(other as SettingKind, [...(Array.isArray(value) ? value : [])])).toBeUndefined();
  });
});

/** What becomes of every setting when a flight controller gets other firmware, by what that says of itself. */
import {describe, expect, it} from 'vitest';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import type {SettingEntry, SettingKind, SettingValue} from '../../link/setting-shapes';
import {refusalOf} from '../../link/setting-accepts';
import {carrySettings, linesOf, textOf, type CarriedSetting} from './carry-settings';

const number = (min: number, max: number, step?: number, unit?: string): SettingKind => ({
  ...{of: 'number', min, max},
  ...(step !== undefined && {step}),
  ...(unit && {unit}),
});
const entry = (key: string, kind: SettingKind, usual: SettingValue, was?: SettingEntry['was']): SettingEntry => ({
  ...{key, kind, usual, since: '1', sentence: 'It is.'},
  ...(was && {was}),
});
const held = (entries: SettingEntry[], values: Record<string, SettingValue> = {}) => ({
  entries,
  values: {...Object.fromEntries(entries.map((e) => [e.key, e.usual])), ...values},
});
const fates = (carried: readonly CarriedSetting[]) => carried.map(({fate, from, to, is}) => [fate, from, to, is]);

describe('a setting', () => {
  const whole = number(0, 100, 1);

  it('stays, moves, is renamed, splits, begins or goes, each with its line', () => {
    const before = held(
      [
        entry('a.stays', whole, 1),
        entry('a.moves', whole, 2),
        entry('a.old', whole, 3),
        entry('a.one', whole, 4),
        entry('a.goes', whole, 5),
      ],
      {'a.stays': 11, 'a.moves': 12, 'a.old': 13, 'a.one': 14, 'a.goes': 15},
    );
    const carried = carrySettings(
      before,
      [
        entry('a.stays', whole, 1),
        entry('a.new', whole, 3, [{key: 'a.old', before: '3.0'}]),
        entry('b.moved', whole, 2, [{key: 'a.moves', before: '3.0'}]),
        entry('b.first', whole, 9, [{key: 'a.one', before: '3.0'}]),
        entry('b.second', whole, 9, [{key: 'a.one', before: '3.0'}]),
        entry('b.begins', whole, 7),
      ],
      {from: '2.9', to: '3.0'},
    );
    expect(fates(carried)).toEqual([
      ['kept', 'a.stays', 'a.stays', 11],
      ['renamed', 'a.old', 'a.new', 13],
      ['moved', 'a.moves', 'b.moved', 12],
      ['split', 'a.one', 'b.first', 14],
      ['split', 'a.one', 'b.second', 14],
      ['new', undefined, 'b.begins', 7],
      ['gone', 'a.goes', undefined, undefined],
    ]);
    // What is new is left at its default: nobody set it.
    expect(linesOf(carried).map(({key}) => key)).toEqual(['a.stays', 'a.new', 'b.moved', 'b.first', 'b.second']);
  });

  it('is the same in other units and in other words', () => {
    const before = held([
      entry('a.volts', number(25, 50, 1, '× 0.1 V'), 35),
      entry('a.us', number(1000, 2000), 1650),
      entry('a.kind', {of: 'one of', words: ['none', 'auto']}, 'auto'),
      entry('a.every', whole, 2),
    ]);
    const carried = carrySettings(
      before,
      [
        entry('a.volts', number(2.5, 5, 0.01, 'V'), 3.5, [{key: 'a.volts', before: '3.0', times: 0.1}]),
        entry('a.percent', number(0, 100, 1, '%'), 65, [{key: 'a.us', before: '3.0', times: 0.1, plus: -100}]),
        entry('a.kind', {of: 'one of', words: ['off', 'by itself']}, 'off', [
          {key: 'a.kind', before: '3.0', words: {none: 'off', auto: 'by itself'}},
        ]),
        entry('a.share', {of: 'one of', words: ['1', '1/2']}, '1', [
          {key: 'a.every', before: '3.0', words: {1: '1', 2: '1/2'}},
        ]),
      ],
      {from: '2.9', to: '3.0'},
    );
    expect(carried.map(({is}) => is)).toEqual([3.5, 65, 'by itself', '1/2']);
    expect(carried.map(({note}) => note)).toEqual([
      'The same in other units.',
      'The same in other units.',
      'The same in other words.',
      'The same in other words.',
    ]);
  });

  it('out of range becomes the nearest that is taken, and the account says so', () => {
    const before = held([entry('a.hz', number(0, 500), 100), entry('a.word', {of: 'text', longest: 9}, 'x')], {
      'a.hz': 432,
    });
    const carried = carrySettings(
      before,
      [
        entry('a.hz', number(50, 400, 25), 100),
        entry('a.word', {of: 'one of', words: ['y']}, 'y', [{key: 'a.word', before: '3.0', words: {z: 'y'}}]),
      ],
      {from: '2.9', to: '3.0'},
    );
    expect(fates(carried)).toEqual([
      ['out of range', 'a.hz', 'a.hz', 400],
      ['out of range', 'a.word', 'a.word', 'y'],
    ]);
    expect(carried[0]!.note).toBe('432 is not a number from 50 to 400 in steps of 25. It becomes 400.');
  });
});

describe('the stand-in', () => {
  /** Every setting away from its default, by what its kind takes. */
  function other(kind: SettingKind, usual: SettingValue): SettingValue {
    switch (kind.of) {
      case 'truth':
        return !usual;
      case 'number': {
        const step = kind.step ?? (kind.max - kind.min) / 8;
        const up = Number(((usual as number) + step).toFixed(6));
        return up <= kind.max ? up : Number(((usual as number) - step).toFixed(6));
      }
      case 'one of':
        return kind.words.find((word) => word !== usual) ?? usual;
      case 'text':
        return 'mine'.slice(0, kind.longest);
      case 'list':
        return (usual as SettingValue[]).length
          ? []
          : ([other(kind.each, kind.each.of === 'number' ? kind.each.min : '')] as SettingValue);
      case 'table':
        return (usual as SettingValue[]).slice(1) as SettingValue;
    }
  }
  const entries = describeSettings('2.0');
  const before = held(entries, Object.fromEntries(entries.map(({key, kind, usual}) => [key, other(kind, usual)])));

  it('brings every setting of 2.0 to 2.2, with an account of each', () => {
    const now = describeSettings('2.2');
    const carried = carrySettings(before, now, {from: '2.0', to: '2.2'});
    for (const {key} of entries)
      expect(
        carried.some(({from}) => from === key),
        key,
      ).toBe(true);
    for (const {key} of now)
      expect(
        carried.filter(({to}) => to === key),
        key,
      ).toHaveLength(1);
    const count = (fate: CarriedSetting['fate']) => carried.filter((c) => c.fate === fate).length;
    // All seven fates are there, and most settings stay.
    expect(count('kept')).toBeGreaterThan(70);
    for (const fate of ['moved', 'renamed', 'split', 'new', 'gone'] as const)
      expect(count(fate), fate).toBeGreaterThan(0);
    for (const {key, value} of linesOf(carried))
      expect([key, refusalOf(now.find((e) => e.key === key)!.kind, value)]).toEqual([key, undefined]);
    const of = (to: string) => carried.find((c) => c.to === to)!;
    // Tens of degrees per second, µs of idle, tenths of a volt.
    expect(of('rates.roll_centre')).toMatchObject({was: 20.5, is: 205});
    expect(of('motors.idle_percent').is).toBe(((of('motors.idle_percent').was as number) - 1000) / 10);
    expect(of('battery.lowest_v')).toMatchObject({fate: 'renamed', from: 'battery.min_v', was: 34, is: 3.4});
    expect(of('sticks.feed_smoothing_hz')).toMatchObject({fate: 'split', from: 'sticks.smoothing_hz'});
    expect(of('receiver.roll')).toMatchObject({fate: 'moved', from: 'channels.roll'});
  });

  it.each(['2.0', '2.2'])('keeps all of it where the firmware stays %s', (version) => {
    const same = describeSettings(version);
    const all = held(same, Object.fromEntries(same.map(({key, kind, usual}) => [key, other(kind, usual)])));
    const carried = carrySettings(all, same, {from: version, to: version});
    expect(carried.map(({fate, is}) => [fate, is])).toEqual(same.map(({key}) => ['kept', all.values[key]]));
    // What came between two versions with the same description changes nothing either.
    expect(carrySettings(all, same, {from: version, to: version === '2.2' ? '2.3-b1' : '2.1'})).toEqual(carried);
  });

  it('back on 2.0, everything that it had is as it was', () => {
    const now = describeSettings('2.2');
    const there = carrySettings(before, now, {from: '2.0', to: '2.2'});
    const values = Object.fromEntries(there.flatMap(({to, is}) => (to === undefined ? [] : [[to, is!]])));
    const back = carrySettings({entries: now, values}, entries, {from: '2.2', to: '2.0'});
    const gone = there.filter(({fate}) => fate === 'gone' || fate === 'out of range').map(({from}) => from);
    for (const {key} of entries)
      if (!gone.includes(key)) expect([key, back.find((c) => c.to === key)?.is]).toEqual([key, before.values[key]]);
  });
});

it('reads a value as a person does', () => {
  expect([textOf('a'), textOf(1), textOf(true), textOf([]), textOf(['a', 2]), textOf([{x: 1}])]).toEqual([
    ...['"a"', '1', 'true', 'none', '"a", 2', '1 row'],
  ]);
});

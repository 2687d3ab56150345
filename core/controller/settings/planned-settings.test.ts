/** What is planned beside the fields of a flight controller, by one description and held against another. */
import {describe, expect, it} from 'vitest';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import {convertedAlone} from '@simulator/hardware/controller/plumb-settings/converted';
import {drawnSettings} from '@simulator/hardware/controller/plumb-settings/drawn';
import {Random} from '@simulator/random';
import type {SettingEntry, SettingKind, SettingValue} from '../../link/setting-shapes';
import {settingDifferences, settingsPlannedFor, withSettings} from './planned-settings';

const percent: SettingKind = {of: 'number', min: 0, max: 100, step: 1};
const entry = (key: string, kind: SettingKind, usual: SettingValue, was?: SettingEntry['was']): SettingEntry => ({
  ...{key, kind, usual, since: '1.0', sentence: 'It is.'},
  ...(was && {was}),
});
const older = {
  version: '1.0',
  entries: [
    entry('a.level', percent, 50),
    entry('a.gone', percent, 1),
    entry('a.us', {of: 'number', min: 1000, max: 2000}, 1500),
  ],
};
const newer = {
  version: '2.0',
  entries: [
    entry('b.level', {of: 'number', min: 0, max: 60, step: 1}, 50, [{key: 'a.level', before: '2.0'}]),
    entry('b.percent', percent, 50, [{key: 'a.us', before: '2.0', times: 0.1, plus: -100}]),
    entry('b.new', percent, 5),
  ],
};
const holding = ({entries}: typeof older, values: Record<string, SettingValue> = {}) => ({
  entries,
  values: {...Object.fromEntries(entries.map((e) => [e.key, e.usual])), ...values},
});

describe('a planned setting', () => {
  const planned = withSettings(undefined, older, {'a.level': 40, 'a.us': 1650});

  it('differs from what is held, in the words of the firmware that runs', () => {
    expect(settingDifferences(planned, holding(older, {'a.us': 1650}), '1.0')).toEqual([
      {key: 'a.level', from: 50, to: 40, refusal: undefined},
    ]);
    expect(settingDifferences(planned, holding(newer, {'b.level': 40}), '2.0')).toEqual([
      {key: 'b.percent', from: 50, to: 65, refusal: undefined},
    ]);
    expect(settingDifferences(undefined, holding(older), '1.0')).toEqual([]);
  });

  it('is read back by the description of before, where older firmware is on it again', () => {
    const forNewer = withSettings(undefined, newer, {'b.level': 30, 'b.percent': 65, 'b.new': 9});
    expect(settingsPlannedFor(forNewer, older)).toEqual([
      // What the older one calls it stands in the newer description alone.
      {key: 'a.level', plannedAs: 'b.level', value: 30, refusal: undefined},
      {key: 'a.us', plannedAs: 'b.percent', value: 1650, refusal: undefined},
      {key: 'b.new', plannedAs: 'b.new', value: 9, refusal: 'This firmware has nothing in its place.'},
    ]);
  });

  it('that does not fit, or has no place, is never taken for held', () => {
    const wide = withSettings(undefined, older, {'a.level': 80, 'a.gone': 2});
    expect(settingDifferences(wide, holding(newer, {'b.level': 60}), '2.0')).toEqual([
      {key: 'b.level', from: undefined, to: 80, refusal: '80 is not a whole number from 0 to 60.'},
      {key: 'a.gone', from: undefined, to: 2, refusal: 'This firmware has nothing in its place.'},
    ]);
    const unread = settingDifferences(wide, undefined, '2.0');
    expect(unread.map(({refusal}) => refusal)).toEqual(Array(2).fill('What it holds there was not read.'));
  });

  it('is planned, changed and taken out, all of it by the newer description from then on', () => {
    const more = withSettings(planned, newer, {'b.new': 7});
    expect(Object.entries(more!).map(([key, {version, value}]) => [key, version, value])).toEqual([
      ['b.level', '2.0', 40],
      ['b.percent', '2.0', 65],
      ['b.new', '2.0', 7],
    ]);
    expect(
      withSettings(more, newer, {'b.level': undefined, 'b.percent': undefined, 'b.new': undefined}),
    ).toBeUndefined();
    // What has no place stays until it is taken out by its own key.
    const lost = withSettings(withSettings(undefined, older, {'a.gone': 2}), newer, {'b.new': 1});
    expect(Object.keys(lost!)).toEqual(['a.gone', 'b.new']);
    expect(Object.keys(withSettings(lost, newer, {'a.gone': undefined})!)).toEqual(['b.new']);
  });

  it('that does not fit stays as it was planned through other edits, until its place is planned anew', () => {
    const wide = withSettings(undefined, older, {'a.level': 80});
    const more = withSettings(wide, newer, {'b.new': 1});
    expect(settingsPlannedFor(more, newer)).toEqual([
      {key: 'b.new', plannedAs: 'b.new', value: 1, refusal: undefined},
      {key: 'b.level', plannedAs: 'a.level', value: 80, refusal: '80 is not a whole number from 0 to 60.'},
    ]);
    const right = withSettings(more, newer, {'b.level': 60});
    expect(Object.keys(right!)).toEqual(['b.new', 'b.level']);
    expect(settingDifferences(right, holding(newer, {'b.new': 1, 'b.level': 60}), '2.0')).toEqual([]);
  });

  it('takes no value that its setting does not take', () => {
    expect(() => withSettings(planned, older, {'a.level': 101})).toThrow(
      'a.level: 101 is not a whole number from 0 to 100.',
    );
    expect(() => withSettings(planned, older, {'a.none': 1})).toThrow('No setting "a.none"');
    expect(() =>
      withSettings(undefined, {version: '2.2', entries: describeSettings('2.2')}, {'motors.replies': true}),
    ).toThrow('planned by the field');
  });
});

it('2.0 as it was drawn reads in 2.2 as both are made', () => {
  const [from, to] = ['2.0', '2.2'].map((version) => ({version, entries: describeSettings(version)}));
  for (let seed = 1; seed <= 40; seed++) {
    const drawn = drawnSettings('2.0', new Random(seed), 0.2);
    const placed = settingsPlannedFor(withSettings(undefined, from!, drawn), to!).filter(
      (p) => p.refusal === undefined,
    );
    expect(Object.fromEntries(placed.map(({key, value}) => [key, value]))).toEqual(convertedAlone(drawn));
  }
});

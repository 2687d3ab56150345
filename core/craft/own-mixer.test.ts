/** A mixer of its own among the settings that a controller describes: found by its columns, on its steps, within its room. */
import {describe, expect, it} from 'vitest';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import type {SettingEntry} from '../link/setting-shapes';
import {asMixerSetting, heldOwnMixer, mixerEntry, mixerRowsIn} from './own-mixer';

const share = {of: 'number', min: -1, max: 1, step: 0.01} as const;
const column = (name: string) => ({name, kind: share});
const entryOf = (columns: readonly string[], most = 8): SettingEntry => ({
  ...{key: 'motors.mix', usual: [], since: '1.0', sentence: 'Rows.'},
  kind: {of: 'table', most, columns: columns.map(column)},
});
const own = entryOf(['yaw', 'pitch', 'roll', 'throttle']);
const row = {throttle: 1, roll: -0.333_33, pitch: 0.5, yaw: -1};

describe('a mixer of its own', () => {
  it('is the table of the four axes, whatever it is called and in whatever order', () => {
    expect(mixerEntry([entryOf(['x', 'y', 'roll', 'yaw']), own])).toBe(own);
    expect(mixerEntry([entryOf(['throttle', 'roll', 'pitch'])])).toBeUndefined();
    expect(['2.0', '2.2'].map((version) => mixerEntry(describeSettings(version))?.key)).toEqual([
      'mixer.rows',
      'mixer.rows',
    ]);
  });
  it('gets each share on the nearest step, and is read back as it was set', () => {
    const set = asMixerSetting(own, [row]);
    expect(set).toEqual({value: [{throttle: 1, roll: -0.33, pitch: 0.5, yaw: -1}]});
    expect('value' in set && mixerRowsIn(set.value)).toEqual([{throttle: 1, roll: -0.33, pitch: 0.5, yaw: -1}]);
  });
  it('says what there is no room for', () => {
    expect(asMixerSetting(entryOf(['throttle', 'roll', 'pitch', 'yaw'], 1), [row, row])).toMatchObject({
      why: expect.stringContaining('a table of 2 rows'),
    });
    expect(asMixerSetting(own, [{...row, yaw: 3}])).toMatchObject({why: expect.stringContaining('Row 1, yaw')});
  });
  it('is none where the table is empty, or is not described', () => {
    expect(heldOwnMixer(undefined)).toEqual([]);
    expect(heldOwnMixer({entries: [own], values: {[own.key]: []}})).toEqual([]);
    expect(heldOwnMixer({entries: [], values: {}})).toEqual([]);
  });
});

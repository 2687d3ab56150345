/** Every setting of the invented firmware that is no field of the configuration, by version. */
import type {SettingEntry} from '@core/link/setting-shapes';
import {compareVersions} from '@core/firmware/identity';
import {equipmentSettings, goneSettings} from './equipment';
import {flightSettings} from './flight';
import {entryOf20, entryOf22} from './made-setting';

const all = [...flightSettings, ...equipmentSettings];

const of22: readonly SettingEntry[] = all.map(entryOf22);
/** Two entries of 2.2 that were one are one here. */
const of20: readonly SettingEntry[] = [...all, ...goneSettings]
  .flatMap((made) => entryOf20(made) ?? [])
  .filter(({key}, i, entries) => entries.findIndex((e) => e.key === key) === i);

/** What came before 2.2 holds what 2.0 did. */
export const plumbSettings = (version: string): readonly SettingEntry[] =>
  compareVersions(version, '2.2') >= 0 ? of22 : of20;

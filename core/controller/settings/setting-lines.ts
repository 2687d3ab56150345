/** What a flight controller holds beside the fields of the plan, as lines of its text: with what each takes and means. */
import type {TomlValue} from 'smol-toml';
import {expectedOf} from '../../link/setting-accepts';
import type {LineToWrite} from '../text/write-text';
import type {BoardSettings} from './board-settings';
import {otherEntries} from './field-entries';

/** @param version of the firmware that holds them. */
export const settingLines = (settings: BoardSettings, version: string): LineToWrite[] =>
  otherEntries(settings, version).map(({key, kind, sentence}) => {
    const [section, name = ''] = key.split('.') as [string, string | undefined];
    return {section, key: name, value: settings.values[key] as TomlValue, comment: `${expectedOf(kind)}; ${sentence}`};
  });

/** What a flight controller holds beside the fields of the plan, as lines of its text: with what each takes and means. */
import type {TomlValue} from 'smol-toml';
import {expectedOf} from '../../link/setting-accepts';
import {textVersionOf} from '../text/carry-config';
import type {LineToWrite} from '../text/write-text';
import type {BoardSettings} from './board-settings';
import {isFieldKey} from './field-entries';

/** @param version of the firmware that holds them. */
export function settingLines({entries, values}: BoardSettings, version: string): LineToWrite[] {
  const text = textVersionOf(version);
  return entries
    .filter(({key}) => !isFieldKey(key, text))
    .map(({key, kind, sentence}) => {
      const [section, name = ''] = key.split('.') as [string, string | undefined];
      return {section, key: name, value: values[key] as TomlValue, comment: `${expectedOf(kind)}; ${sentence}`};
    });
}

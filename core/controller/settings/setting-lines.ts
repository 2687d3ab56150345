/** What a flight controller holds beside the fields of the plan, as lines of its text: with what each takes and means. */
import {sameJson} from '../../canonical-json';
import {expectedOf} from '../../link/setting-accepts';
import type {LineToWrite} from '../text/write-text';
import type {BoardSettings} from './board-settings';
import {otherEntries} from './field-entries';

/** @param version of the firmware that holds them. */
export const settingLines = (settings: BoardSettings, version: string): (LineToWrite & {readonly isUsual: boolean})[] =>
  otherEntries(settings, version).map(({key, kind, sentence, usual}) => {
    const [section, name = ''] = key.split('.') as [string, string | undefined];
    const value = settings.values[key]!;
    const comment = `${expectedOf(kind)}; ${sentence}`;
    return {section, key: name, value, comment, isUsual: sameJson(value, usual)};
  });

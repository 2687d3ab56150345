import {sameJson} from '../../canonical-json';
import type {BoardSettings} from './board-settings';
import {textOf} from './carry-settings';
import {otherEntries} from './field-entries';

interface Holder {
  readonly identity: {readonly version: string};
  readonly settings?: BoardSettings | undefined;
}

interface SettingChange {
  readonly key: string;
  /** "frame_rate 30 → 60". */
  readonly text: string;
}

/** Settings beside the fields of the plan that are not as they were; none where either was not read, or runs other firmware. */
export function settingChanges(was: Holder | undefined, is: Holder | undefined): SettingChange[] {
  if (!was?.settings || !is?.settings || was.identity.version !== is.identity.version) return [];
  const [before, now] = [was.settings.values, is.settings.values];
  return otherEntries(was.settings, was.identity.version).flatMap(({key}) => {
    const [from, to] = [before[key]!, now[key]];
    if (sameJson(from, to)) return [];
    return [{key, text: `${key} ${textOf(from)} → ${to === undefined ? 'nothing' : textOf(to)}`}];
  });
}

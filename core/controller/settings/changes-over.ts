/** What an update of the firmware did to the settings of a flight controller, key by key. */
import {carrySettings, textOf, type CarriedSetting} from './carry-settings';
import type {BoardSettings} from './board-settings';
import type {Described} from './planned-settings';

export interface SettingChangeOver {
  /** "renamed from battery.min_v, 33 there". */
  readonly text: string;
}

/**
 * By key of the firmware of now; what stayed as it was is not among them.
 *
 * @param before what the older firmware held, by its own description.
 */
export function changesOver(before: BoardSettings & Described, now: Described): ReadonlyMap<string, SettingChangeOver> {
  const carried = carrySettings(before, now.entries, {from: before.version, to: now.version});
  return new Map(
    carried.flatMap((line) => {
      const text = line.to === undefined ? undefined : changeText(line, before.version);
      return text === undefined ? [] : [[line.to!, {text}] as const];
    }),
  );
}

function changeText({fate, from, was, note}: CarriedSetting, version: string): string | undefined {
  if (fate === 'kept') return note ? `${textOf(was!)} in ${version}. ${note}` : undefined;
  if (fate === 'new') return `new since ${version}`;
  return `${fate} from ${from}, ${textOf(was!)} in ${version}${note ? `. ${note}` : ''}`;
}

/** Whether a write of settings leaves an ESC with the values it holds now. */
import type {FoundEsc} from '../../bench/found';
import {melodyIn, melodyText} from '../../sounds/melody-block';
import {readRtttl} from '../../sounds/rtttl';
import type {SettingsTarget} from '../../order/steps';

export function leavesValues(target: SettingsTarget | undefined, {settings, settingsPage}: FoundEsc): boolean {
  if (!target || target.layout !== settings?.layout || !holdsMelody(target, settingsPage)) return false;
  return Object.entries(target.values).every(
    ([key, value]) => settings.values[key as keyof typeof settings.values] === value,
  );
}

/** Whether a settings page has the melody that a target asks for; one that asks for none is content with any. */
export function holdsMelody({melody}: SettingsTarget, page: Uint8Array): boolean {
  const wanted = melody === undefined ? undefined : readRtttl(melody);
  return !wanted?.ok || melodyText(melodyIn(page)) === melodyText(wanted.value);
}

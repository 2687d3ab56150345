/** Whether a write of settings leaves an ESC with the values it holds now. */
import type {FoundEsc} from '../bench/found';
import type {SettingsTarget} from '../order/steps';

export function leavesValues(target: SettingsTarget | undefined, {settings}: FoundEsc): boolean {
  if (!target || target.layout !== settings?.layout) return false;
  return Object.entries(target.values).every(
    ([key, value]) => settings.values[key as keyof typeof settings.values] === value,
  );
}

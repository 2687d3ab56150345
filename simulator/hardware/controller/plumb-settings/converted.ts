/** What the settings of 2.0 mean in 2.2, by how both were made: the truth that carrying over is held against. */
import type {SettingValue, SettingValues} from '@core/link/setting-shapes';
import {equipmentSettings} from './equipment';
import {flightSettings} from './flight';
import type {MadeSetting} from './made-setting';

/** Values of 2.2, by key, of those that 2.0 had in some form. @param held what was set in 2.0; the rest is its default. */
export function converted(held: SettingValues): SettingValues {
  return Object.fromEntries(
    [...flightSettings, ...equipmentSettings].flatMap((made) => {
      const value = valueOf(made, held);
      return value === undefined ? [] : [[made.key, value]];
    }),
  );
}

/** Of settings of 2.0 alone, whatever the others hold: what they mean in 2.2. */
export function convertedAlone(some: SettingValues): SettingValues {
  const all = converted(some);
  const made = [...flightSettings, ...equipmentSettings].filter((m) => {
    const source = sourceOf(m);
    return source !== undefined && source in some;
  });
  return Object.fromEntries(made.map(({key}) => [key, all[key]!]));
}

/** Whether 2.2 has something in place of a setting of 2.0, and takes what it held. */
export const isCarried = (key: string, value: SettingValue): boolean => {
  const made = [...flightSettings, ...equipmentSettings].filter((m) => sourceOf(m) === key);
  return made.length > 0 && made.every((m) => valueOf(m, {[key]: value}) !== undefined);
};

const sourceOf = ({key, before}: MadeSetting): string | undefined =>
  before === undefined ? undefined : before === 'same' ? key : (before.key ?? key);

function valueOf({key, kind, usual, before}: MadeSetting, held: SettingValues): SettingValue | undefined {
  if (before === undefined) return undefined;
  if (before === 'same') return held[key] ?? usual;
  const was = held[before.key ?? key] ?? before.usual ?? usual;
  if (before.words && !Array.isArray(was)) return before.words[String(was)];
  if (typeof was !== 'number' || kind.of !== 'number') return was;
  const value = was * (before.times ?? 1) + (before.plus ?? 0);
  const step = kind.step ?? 0.000001;
  return Number((kind.min + Math.round((value - kind.min) / step) * step).toFixed(6));
}

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

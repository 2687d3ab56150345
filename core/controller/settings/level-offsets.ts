/**
 * What a flight controller takes off its accelerometer: three settings in mg, in the board's axes forward, right, down. See
 * docs/bench-link.md, "Settings".
 */
import type {SettingEntry, SettingValues} from '../../link/setting-shapes';
import type {SettingEdits} from './planned-settings';

export const offsetKeys = ['level.offset_x', 'level.offset_y', 'level.offset_z'] as const;

/** g. */
export type Offsets = readonly [number, number, number];

/** Undefined where its firmware does not describe all three, in mg. */
export function offsetsIn(entries: readonly SettingEntry[], values: SettingValues): Offsets | undefined {
  const own = offsetKeys.map((key) => entries.find((e) => e.key === key));
  if (own.some((entry) => entry?.kind.of !== 'number' || entry.kind.unit !== 'mg')) return undefined;
  const [x, y, z] = offsetKeys.map((key) => Number(values[key] ?? 0) / 1000);
  return [x!, y!, z!];
}

/** On whole mg, within what the firmware takes. */
export function offsetEdits(entries: readonly SettingEntry[], offsets: Offsets): SettingEdits {
  return Object.fromEntries(
    offsetKeys.map((key, axis) => {
      const kind = entries.find((e) => e.key === key)!.kind;
      const [min, max] = kind.of === 'number' ? [kind.min, kind.max] : [-Infinity, Infinity];
      return [key, Math.min(max, Math.max(min, Math.round(offsets[axis]! * 1000))) + 0];
    }),
  );
}

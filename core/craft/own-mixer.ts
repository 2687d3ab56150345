/**
 * A mixer of its own that a flight controller may hold: a table setting with a number column for each axis, one row for each
 * output in their order. Without rows it mixes for its airframe. See docs/bench-link.md, "Settings".
 */
import {mixerAxes, type MixerRow} from './mixer';
import {refusalOf} from '../link/setting-accepts';
import type {SettingEntry, SettingKind, SettingValue, SettingValues} from '../link/setting-shapes';
import type {PlannedSettings} from '../controller/settings/planned-settings';

/** Undefined where the firmware takes no mixer of its own. */
export const mixerEntry = (entries: readonly SettingEntry[]): SettingEntry | undefined =>
  entries.find(({kind}) => isMixer(kind));

function isMixer(kind: SettingKind): boolean {
  if (kind.of !== 'table' || kind.columns.length !== mixerAxes.length) return false;
  const {columns} = kind;
  return mixerAxes.every((axis) => columns.some((c) => c.name === axis && c.kind.of === 'number'));
}

/** Rows of the value of such a table; none where it is empty. */
export function mixerRowsIn(value: SettingValue | undefined): MixerRow[] {
  if (!Array.isArray(value)) return [];
  return value.flatMap((row) => {
    if (typeof row !== 'object') return [];
    const [throttle, roll, pitch, yaw] = mixerAxes.map((axis) => Number(row[axis]));
    return [{throttle: throttle!, roll: roll!, pitch: pitch!, yaw: yaw!}];
  });
}

/** Rows as the setting takes them, each share on its nearest step; or why it has no room for them. */
export function asMixerSetting(
  {key, kind}: SettingEntry,
  rows: readonly MixerRow[],
): {readonly value: SettingValue} | {readonly why: string} {
  const value = rows.map((row) =>
    Object.fromEntries(mixerAxes.map((axis) => [axis, onStep(stepOf(kind, axis), row[axis])])),
  );
  const refusal = refusalOf(kind, value);
  return refusal ? {why: `${key}: ${refusal.text}`} : {value};
}

function stepOf(kind: SettingKind, axis: string): {readonly min: number; readonly step: number} {
  const column = kind.of === 'table' ? kind.columns.find((c) => c.name === axis)?.kind : undefined;
  if (column?.of !== 'number') throw new TypeError(`No column "${axis}" of numbers`);
  return {min: column.min, step: column.step ?? 1e-4};
}

const onStep = ({min, step}: {readonly min: number; readonly step: number}, value: number): number =>
  Number((min + Math.round((value - min) / step) * step).toFixed(6));

/** Rows of the mixer that is planned; undefined where none is, empty where that of the airframe is. */
export function plannedMixer(planned: PlannedSettings | undefined): MixerRow[] | undefined {
  const one = Object.values(planned ?? {}).find(({entry}) => isMixer(entry.kind));
  return one && mixerRowsIn(one.value);
}

/** Rows of its own that a controller holds; none where it mixes for its airframe, or takes none. */
export function heldOwnMixer(
  settings: {readonly entries: readonly SettingEntry[]; readonly values: SettingValues} | undefined,
): MixerRow[] {
  const entry = settings && mixerEntry(settings.entries);
  return entry ? mixerRowsIn(settings.values[entry.key]) : [];
}

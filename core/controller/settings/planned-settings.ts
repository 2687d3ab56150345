/**
 * Settings that a person planned beside the fields that Bidex knows: each with the description that it was planned by, so
 * that other firmware gets it in its own place, units and words.
 */
import * as z from 'zod';
import {sameJson} from '../../canonical-json';
import {refusalOf} from '../../link/setting-accepts';
import {
  settingEntrySchema,
  settingValueSchema,
  type SettingEntry,
  type SettingValue,
  type SettingValues,
} from '../../link/setting-shapes';
import {textVersionOf} from '../text/carry-config';
import type {BoardSettings} from './board-settings';
import {carrySettings, type CarriedSetting} from './carry-settings';
import {isFieldKey} from './field-entries';

/** By the key that it has in the firmware that it was planned by. */
export const plannedSettingsSchema = z.record(
  z.string().max(80),
  z.object({
    /** Of that firmware. */
    version: z.string().max(20),
    entry: settingEntrySchema,
    value: settingValueSchema,
  }),
);
export type PlannedSettings = Readonly<z.infer<typeof plannedSettingsSchema>>;

/** A description, and the version of the firmware whose it is. */
export interface Described {
  readonly version: string;
  readonly entries: readonly SettingEntry[];
}

/** A planned setting as the firmware of now has it. */
export interface PlannedSetting {
  /** Its key there; the one that it was planned by where there is none. */
  readonly key: string;
  /** Key in the plan. */
  readonly plannedAs: string;
  readonly value: SettingValue;
  /** Why this firmware cannot hold it, a sentence; undefined where it can. */
  readonly refusal: string | undefined;
}

/** In the order of the description; what it has no place for at the end. */
export function settingsPlannedFor(
  planned: PlannedSettings | undefined,
  {version, entries}: Described,
): PlannedSetting[] {
  const versions = [...new Set(Object.values(planned ?? {}).map((p) => p.version))];
  const all = versions.flatMap((from) => {
    const own = Object.entries(planned!).filter(([, p]) => p.version === from);
    const before: BoardSettings = {
      entries: own.map(([, {entry}]) => entry),
      values: Object.fromEntries(own.map(([key, {value}]) => [key, value])),
    };
    return carrySettings(before, entries, {from, to: version}).flatMap(asPlanned);
  });
  const place = new Map(entries.map(({key}, i) => [key, i]));
  const at = ({key, refusal}: PlannedSetting) => (refusal === undefined ? place.get(key)! : entries.length);
  return all.sort((a, b) => at(a) - at(b));
}

/** Values of what is planned, as far as this firmware can hold it, by its own keys. */
export const valuesPlannedFor = (planned: PlannedSettings | undefined, described: Described): SettingValues =>
  Object.fromEntries(
    settingsPlannedFor(planned, described).flatMap(({key, value, refusal}) =>
      refusal === undefined ? [[key, value] as const] : [],
    ),
  );

function asPlanned({fate, from, to, was, is, refused}: CarriedSetting): PlannedSetting[] {
  if (fate === 'new' || from === undefined) return [];
  const about = {key: to ?? from, plannedAs: from};
  if (is === undefined) return [{...about, value: was!, refusal: 'This firmware has nothing in its place.'}];
  return [{...about, value: refused === undefined ? is : was!, refusal: refused}];
}

/** Where a flight controller does not hold what is planned. */
export interface SettingDifference {
  readonly key: string;
  /** Undefined where it has no such setting, or was not read. */
  readonly from: SettingValue | undefined;
  readonly to: SettingValue;
  /** Why it cannot be set, a sentence; undefined where it can. */
  readonly refusal: string | undefined;
}

/** @param held undefined where it does not describe what it holds, or that was not read. */
export function settingDifferences(
  planned: PlannedSettings | undefined,
  held: BoardSettings | undefined,
  version: string,
): SettingDifference[] {
  if (!held)
    return Object.entries(planned ?? {}).map(([key, {value}]) => ({
      ...{key, from: undefined, to: value},
      refusal: 'What it holds there was not read.',
    }));
  return settingsPlannedFor(planned, {version, entries: held.entries}).flatMap(({key, value, refusal}) => {
    const from = refusal === undefined ? held.values[key] : undefined;
    return refusal === undefined && sameJson(from, value) ? [] : [{key, from, to: value, refusal}];
  });
}

/** A value for a key; undefined takes it out of the plan. */
export type SettingEdits = Readonly<Record<string, SettingValue | undefined>>;

/**
 * The plan with these values, all of it by the description of now. What that has no place for stays as it was planned until
 * it is taken out by the key that it was planned by. Undefined where nothing is planned any more.
 *
 * @throws RangeError for a value that its setting does not take, and a key that is not described or is a field of the plan.
 */
export function withSettings(
  planned: PlannedSettings | undefined,
  {version, entries}: Described,
  edits: SettingEdits,
): PlannedSettings | undefined {
  const entryOf = new Map(entries.map((entry) => [entry.key, entry]));
  const carried = settingsPlannedFor(planned, {version, entries});
  const next = new Map(
    carried.map(({key, plannedAs, value, refusal}) =>
      refusal === undefined
        ? ([key, {version, entry: entryOf.get(key)!, value}] as const)
        : ([plannedAs, planned![plannedAs]!] as const),
    ),
  );
  for (const [key, value] of Object.entries(edits)) {
    const entry = entryOf.get(key);
    if (value === undefined) next.delete(key);
    else if (isFieldKey(key, textVersionOf(version))) throw new RangeError(`${key} is planned by the field that it is`);
    else if (!entry) throw new RangeError(`No setting "${key}" is described`);
    else {
      const refusal = refusalOf(entry.kind, value);
      if (refusal) throw new RangeError(`${key}: ${refusal.text}`);
      // What older firmware called it, and held otherwise than this one takes, is planned by this from now on.
      for (const {plannedAs} of carried.filter((c) => c.key === key)) next.delete(plannedAs);
      next.set(key, {version, entry, value});
    }
  }
  return next.size ? Object.fromEntries(next) : undefined;
}

/** Brings settings from one layout revision to another and tells what happened to each. */
import {parameterDefinitions, refusalOf, storageOf, type LayoutRevision, type ParameterKey} from './definitions';
import {defaultSettings, type DecodedSettings, type Settings} from './page';

export interface CarryOver {
  readonly values: Settings;
  /** Stored elsewhere in the new layout; the value is the same. */
  readonly moved: readonly ParameterKey[];
  /** Not in the old layout; starts at its default. */
  readonly added: readonly ParameterKey[];
  /** Not in the new layout, with the last value. */
  readonly dropped: readonly {readonly key: ParameterKey; readonly last: number}[];
  /** Held a value the definition does not allow; the default is taken instead. */
  readonly outOfRange: readonly {readonly key: ParameterKey; readonly found: number}[];
}

/** @param variant of the firmware that takes them. */
export function carryOver(from: DecodedSettings, to: LayoutRevision, variant = from.variant): CarryOver {
  const values: Partial<Record<ParameterKey, number>> = {...defaultSettings(to, variant)};
  const moved: ParameterKey[] = [];
  const added: ParameterKey[] = [];
  const dropped: {key: ParameterKey; last: number}[] = [];
  const outOfRange: {key: ParameterKey; found: number}[] = [];
  for (const definition of parameterDefinitions) {
    const {key} = definition;
    const old = storageOf(definition, from.layout, from.variant);
    const place = storageOf(definition, to, variant);
    const value = from.values[key];
    if (old && place && value !== undefined) {
      if (old.offset !== place.offset) moved.push(key);
      if (refusalOf(definition, value, to)) outOfRange.push({key, found: value});
      else values[key] = value;
    } else if (place) added.push(key);
    else if (old && value !== undefined) dropped.push({key, last: value});
  }
  return {values, moved, added, dropped, outOfRange};
}

/** Everything that the flight controller holds beside the fields of the plan: as found, and as it is planned. */
import {valuesPlannedFor} from '../controller/settings/planned-settings';
import type {SettingEntry, SettingValues} from '../link/setting-shapes';
import type {JudgedCraft} from './craft-question';

interface HeldAndPlanned {
  /** What its firmware says of each. */
  readonly entries: readonly SettingEntry[];
  readonly found: SettingValues;
  /** What is found where nothing is planned. */
  readonly planned: SettingValues;
}

/** Undefined while no controller was read that describes them. */
export function heldAndPlanned({record, plan}: Pick<JudgedCraft, 'record' | 'plan'>): HeldAndPlanned | undefined {
  const {settings, identity} = record.found?.controller ?? {};
  if (!settings || !identity) return undefined;
  const {entries, values: found} = settings;
  return {
    entries,
    found,
    planned: {...found, ...valuesPlannedFor(plan.settings, {version: identity.version, entries})},
  };
}

/** What each version of the simulated controller's firmware keeps, and what it comes with. */
import {definedFields, fieldsSince, usualOf} from '@core/controller/definitions';
import {compareVersions} from '@core/firmware/identity';
import type {WireConfig} from '@core/link/operations';

/** Fields that Plumb has from 2.2 on; whether replies are heard is told by all, and heeded by 2.2. */
const since22: readonly string[] = fieldsSince('2.2').filter((field) => field !== 'replies');
const has22 = (version: string) => compareVersions(version, '2.2') >= 0;

/** The fields that a version keeps; one before 2.2 hears no replies whatever it is told. */
export function fieldsOf(version: string, config: WireConfig): WireConfig {
  if (has22(version)) return config;
  const kept = Object.entries(config).filter(([field]) => !since22.includes(field));
  return {...(Object.fromEntries(kept) as WireConfig), replies: false};
}

/** A configuration as it comes with the firmware, on a board of so many outputs and this gyro. */
export function factoryConfig(version: string, {arms, gyroHz}: Pick<WireConfig, 'arms' | 'gyroHz'>): WireConfig {
  const usual = Object.fromEntries(definedFields.map((field) => [field, usualOf(field)])) as Omit<WireConfig, 'gyroHz'>;
  return fieldsOf(version, {
    ...usual,
    ...{gyroHz, loopHz: Math.min(gyroHz, usual.loopHz)},
    arms: arms.map((_, i) => i),
  });
}

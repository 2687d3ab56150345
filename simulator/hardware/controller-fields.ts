/** What each version of the simulated controller's firmware keeps, and what it comes with. */
import {compareVersions} from '@core/firmware/identity';
import type {WireConfig} from '@core/link/operations';

/** Fields that Plumb has from 2.2 on. */
const since22: readonly (keyof WireConfig)[] = [
  'notchHarmonics',
  'notchQ',
  'notchMinHz',
  'notchWeights',
  'notchFadeHz',
  'speedLowPassHz',
  'movingMinHz',
  'movingMaxHz',
  'gyroLowPass',
  'gyroLowPassFullHz',
  'dLowPass',
  'dLowPassFullHz',
  'clockMhz',
  'extendedReplies',
];
const has22 = (version: string) => compareVersions(version, '2.2') >= 0;

/** The fields that a version keeps; one before 2.2 hears no replies whatever it is told. */
export function fieldsOf(version: string, config: WireConfig): WireConfig {
  if (has22(version)) return config;
  const kept = Object.entries(config).filter(([field]) => !since22.includes(field as keyof WireConfig));
  return {...(Object.fromEntries(kept) as WireConfig), replies: false};
}

/** A configuration as it comes with the firmware, on a board of so many outputs and this gyro. */
export function factoryConfig(version: string, {arms, gyroHz}: Pick<WireConfig, 'arms' | 'gyroHz'>): WireConfig {
  return fieldsOf(version, {
    ...{protocol: 'dshot300', replies: false, poles: 14, gyroHz, loopHz: Math.min(gyroHz, 4000)},
    arms: arms.map((_, i) => i),
    ...{notchHarmonics: [], notchQ: 5, notchMinHz: 100, notchWeights: [], notchFadeHz: 0, speedLowPassHz: 0},
    ...{movingNotches: 2, movingQ: 3, movingMinHz: 100, movingMaxHz: 600},
    ...{gyroLowPass: 'biquad-lowpass', gyroLowPassHz: 250, gyroLowPassFullHz: 0},
    ...{dLowPass: 'biquad-lowpass', dLowPassHz: 110, dLowPassFullHz: 0},
    ...{
      clockMhz: 0,
      extendedReplies: false,
      idlePercent: 5,
      props: 'in',
      mounting: {roll: 0, pitch: 0, yaw: 0},
      accelerometer: true,
    },
    receiver: {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
    switches: [],
    failSafe: {action: 'drop', afterMs: 400},
  });
}

/** Which way a motor was seen to turn, and on which arm. */
import type {Found} from '../bench/found';
import {wantedSenses, type Craft, type RotationSense} from '../craft/craft';

/** What a person saw turn at the Spin station. */
export interface Sighting {
  readonly output: number;
  readonly arm: number;
  readonly sense: RotationSense;
  /** Rotation setting of the ESC when it was seen. */
  readonly rotationSetting: number | undefined;
  readonly startsAtUs: number | undefined;
  readonly coastDownS: number | undefined;
  /** Epoch ms. */
  readonly at: number;
}

/** Whether what was seen is right and still true of the ESC as found. */
export function sightingHolds(s: Sighting, craft: Craft, found: Found | undefined): boolean {
  const setting = found?.escs.find((e) => e.output === s.output)?.settings?.values.rotation;
  return (
    s.arm === craft.plan.controller.arms[s.output] &&
    s.sense === wantedSenses(craft)[s.arm] &&
    setting === s.rotationSetting
  );
}

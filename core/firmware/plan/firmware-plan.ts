/** The firmware that is planned for the ESCs of a craft, and what it is called. */
import * as z from 'zod';
import type {Variant} from '../../settings/variant';

export const firmwarePlanSchema = z.object({
  family: z.string(),
  version: z.string(),
  /** PWM frequency of the build, kHz, for families that build it in. */
  pwmKhz: z.number().int().positive().optional(),
  /** Version of the reply module on top of it. */
  module: z.string().optional(),
  /** SHA-256 of a file of one's own; without it the release of that name is meant. */
  file: z.string().optional(),
  /** Who says that this file belongs on these boards although it does not say so itself, why, and when, epoch ms. */
  claim: z.object({by: z.string().max(80), why: z.string().max(400), at: z.number()}).optional(),
});
export type FirmwarePlan = z.infer<typeof firmwarePlanSchema>;
export type FileClaim = NonNullable<FirmwarePlan['claim']>;

/** A planned firmware with the kind of craft that it must be made for. */
export interface WantedFirmware extends FirmwarePlan {
  readonly variant: Variant;
}

/** "Cadence 2.1, 48 kHz", "Meridian 3.9 + reply module 1.1": planned and found firmware are compared by this name. */
export function firmwareName({family, version, pwmKhz, module}: Omit<FirmwarePlan, 'file' | 'claim'>): string {
  const build = pwmKhz === undefined ? '' : `, ${pwmKhz} kHz`;
  // Firmware of others has no version.
  return `${family}${version && ` ${version}`}${build}${module === undefined ? '' : ` + reply module ${module}`}`;
}

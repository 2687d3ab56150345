/** Published firmware of flight controllers, and the boards it is built for: a part of the signed catalogue. */
import * as z from 'zod';

/** Lights of a board: what is seen, and what it means. */
export const lightsSchema = z.array(z.object({shows: z.string(), means: z.string()})).max(12);

export const controllerBoardSchema = z.object({
  /** The target that its firmware is built for. */
  name: z.string(),
  chip: z.string(),
  /** Text printed on it. */
  silkscreen: z.string(),
  /** How its loader is started by hand: a button or two pads, and where they are. */
  byHand: z.enum(['button', 'pads']),
  /** Place of it on the board seen from above, nose up: shares of its width and height. */
  at: z.object({x: z.number().min(0).max(1), y: z.number().min(0).max(1)}),
  /** What its lights say. */
  lights: lightsSchema.optional(),
});
export type ControllerBoard = z.infer<typeof controllerBoardSchema>;

export const controllerReleaseSchema = z.object({
  id: z.string(),
  family: z.string(),
  version: z.string(),
  /** Target it is built for. */
  board: z.string(),
  chip: z.string(),
  standing: z.enum(['steady', 'trial', 'withdrawn']),
  date: z.iso.date(),
  note: z.string(),
  /** "replies", "motor-speed notches", "pass-through": what it can. */
  features: z.array(z.string()),
  /** Kinds of receiver built in. */
  receivers: z.array(z.string()),
  sizeBytes: z.number().int().positive(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
});
export type ControllerRelease = z.infer<typeof controllerReleaseSchema>;

/** Firmware that is planned for the flight controller. */
export const controllerFirmwareSchema = z.object({
  family: z.string().max(40),
  version: z.string().max(40),
  /** SHA-256 of a file of one's own; without it the release of that name is meant. */
  file: z.string().max(64).optional(),
});
export type ControllerFirmware = z.infer<typeof controllerFirmwareSchema>;

export const controllerFirmwareName = ({family, version}: Pick<ControllerFirmware, 'family' | 'version'>): string =>
  `${family} ${version}`;

/** The same name, from what a flight controller says that it runs. */
export const runningName = ({firmware, version}: {readonly firmware: string; readonly version: string}): string =>
  controllerFirmwareName({family: firmware, version});

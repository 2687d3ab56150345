/** What Bidex knows of the processors of flight controllers. Sizes in bytes; all invented, as the classes of the demo are. */
import type {AddressRange} from '../../firmware/chips';

export interface ControllerChip {
  readonly name: string;
  readonly flashBytes: number;
  /** The loader lies below it and is never written. */
  readonly application: AddressRange;
  /** Clock that it is rated for, and the raised ones that people run it at, MHz. */
  readonly ratedMhz: number;
  readonly raisedMhz: readonly number[];
  /** Clocks that leave 48 MHz for USB by whole dividers are multiples of this, MHz; 0 where only the rated one does. */
  readonly usbStepMhz: number;
}

const kib = 1024;
export const controllerChips: readonly ControllerChip[] = [
  {
    name: 'F1 class',
    flashBytes: 64 * kib,
    application: {start: 8 * kib, end: 60 * kib},
    ...{ratedMhz: 72, raisedMhz: [84, 96, 108], usbStepMhz: 0},
  },
  {
    name: 'F4 class',
    flashBytes: 128 * kib,
    application: {start: 16 * kib, end: 120 * kib},
    ...{ratedMhz: 168, raisedMhz: [180, 192, 216, 240], usbStepMhz: 24},
  },
  {
    name: 'F7 class',
    flashBytes: 256 * kib,
    application: {start: 16 * kib, end: 240 * kib},
    ...{ratedMhz: 216, raisedMhz: [228, 240, 264], usbStepMhz: 24},
  },
];
export const findControllerChip = (name: string): ControllerChip | undefined =>
  controllerChips.find((chip) => chip.name === name);

/**
 * Whether a board still speaks over USB at a clock: USB needs 48 MHz, which the processor's clock generator makes by a whole
 * divider of twice the clock (the trade's knowledge of such chips, from memory).
 */
export function keepsUsb(chipName: string, clockMhz: number): boolean {
  const chip = findControllerChip(chipName);
  if (!chip || clockMhz === chip.ratedMhz) return true;
  return chip.usbStepMhz > 0 && clockMhz % chip.usbStepMhz === 0;
}

/** Variant in the identity block of an image that is for a flight controller. */
export const controllerVariant = 'controller';

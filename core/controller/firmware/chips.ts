/** What Bidex knows of the processors of flight controllers. Sizes in bytes; all invented, as the classes of the demo are. */
import type {AddressRange} from '../../firmware/chips';

export interface ControllerChip {
  readonly name: string;
  readonly flashBytes: number;
  /** The loader lies below it and is never written. */
  readonly application: AddressRange;
}

const kib = 1024;
export const controllerChips: readonly ControllerChip[] = [
  {name: 'F1 class', flashBytes: 64 * kib, application: {start: 8 * kib, end: 60 * kib}},
  {name: 'F4 class', flashBytes: 128 * kib, application: {start: 16 * kib, end: 120 * kib}},
  {name: 'F7 class', flashBytes: 256 * kib, application: {start: 16 * kib, end: 240 * kib}},
];
export const findControllerChip = (name: string): ControllerChip | undefined =>
  controllerChips.find((chip) => chip.name === name);

/** Variant in the identity block of an image that is for a flight controller. */
export const controllerVariant = 'controller';

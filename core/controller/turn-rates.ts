/**
 * Turn rates: how quickly a craft is told to turn for a place of the stick. With x the share of the stick's throw from its
 * centre, 0 to 1,
 *
 *     rate(x) = c·x + (h − c)·x^(2 + 4k)
 *
 * in degrees per second: c is the slope at the centre (as if the whole throw were as the centre is), h the rate at the end,
 * and k the share that is left to the outer part. At the end it is h whatever c and k are; at the centre its slope is c.
 * Source: Plumb, the invented firmware.
 */
import type {SettingValues} from '../link/setting-shapes';
import type {TurnAxis} from './turn-axes';

export interface TurnRate {
  /** Slope at the centre, degrees per second over the whole throw. */
  readonly centre: number;
  /** At the end of the stick, degrees per second. */
  readonly highest: number;
  /** Share that is left to the outer part, 0 to 1. */
  readonly curve: number;
}

/** Keys of an axis, in the words of the description. */
export const rateKeys = (axis: TurnAxis): Readonly<Record<keyof TurnRate, string>> => ({
  centre: `rates.${axis}_centre`,
  highest: `rates.${axis}_highest`,
  curve: `rates.${axis}_curve`,
});

/** Undefined where the firmware has no such settings, or other units. */
export function turnRateIn(values: SettingValues, axis: TurnAxis): TurnRate | undefined {
  const {centre, highest, curve} = rateKeys(axis);
  const [c, h, k] = [values[centre], values[highest], values[curve]];
  if (typeof c !== 'number' || typeof h !== 'number' || typeof k !== 'number') return undefined;
  return {centre: c, highest: h, curve: k / 100};
}

/** @param stick −1 to 1. @returns degrees per second. */
export function rateAt({centre, highest, curve}: TurnRate, stick: number): number {
  const x = Math.min(1, Math.abs(stick));
  return Math.sign(stick) * (centre * x + (highest - centre) * x ** (2 + 4 * curve));
}

/** Slope there, degrees per second for each share of the throw: the derivative of the formula. */
export function slopeAt({centre, highest, curve}: TurnRate, stick: number): number {
  const x = Math.min(1, Math.abs(stick));
  const power = 2 + 4 * curve;
  return centre + (highest - centre) * power * x ** (power - 1);
}

/** What one step of the receiver's pulse is worth: half the throw is 500 µs (common practice), a step 1 µs. */
const throwUs = 500;
export const perMicrosecond = (rate: TurnRate, stick: number): number => slopeAt(rate, stick) / throwUs;

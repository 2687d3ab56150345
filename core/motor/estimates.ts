/**
 * What nobody measured, estimated from what a label says. Our own fits to the motors of the demo (2207, 2808, 1002),
 * good to the factor given with each; every number that rests on one is shown with its bounds.
 */
import type {Craft} from '../craft/craft';
import {torqueConstant} from './motor';

/** An estimate is trusted between `value / factor` and `value × factor`. */
export interface Estimate {
  readonly value: number;
  readonly factor: number;
}

export interface StatorSize {
  readonly diameterMm: number;
  readonly heightMm: number;
}

/** Factors that the estimates of winding and pack are good to. */
export const resistanceTrust = 1.6;
export const inductanceTrust = 1.5;
export const packTrust = 2;

/** "2207" is a stator 22 mm across and 7 mm high; "2306.5" and "1002" read alike. Undefined when it does not read. */
export function readStatorSize(size: string): StatorSize | undefined {
  const parts = /^(\d{2})(\d{2}(?:\.\d)?)$/.exec(size.trim());
  const [diameterMm, heightMm] = [Number(parts?.[1]), Number(parts?.[2])];
  return diameterMm > 0 && heightMm > 0 ? {diameterMm, heightMm} : undefined;
}

/**
 * Winding resistance in Ω: K_T² / K_M², where the motor constant K_M² grows as d⁴·h²/(d + h): torque with bore and length,
 * copper with the slot area, length of a turn with both.
 */
export function estimateResistance({diameterMm: d, heightMm: h}: StatorSize, kv: number): Estimate {
  const motorConstantSquared = (8.82e-10 * d ** 4 * h ** 2) / (d + h);
  return {value: torqueConstant(kv) ** 2 / motorConstantSquared, factor: resistanceTrust};
}

/** Winding inductance in H, from the electrical time constant L/R, which grows as d²·√h. */
export function estimateInductance(stator: StatorSize, resistanceOhm: number): Estimate {
  const timeConstantS = 1.98e-7 * stator.diameterMm ** 2 * Math.sqrt(stator.heightMm);
  return {value: resistanceOhm * timeConstantS, factor: inductanceTrust};
}

const volumeMm3 = ({diameterMm: d, heightMm: h}: StatorSize) => (Math.PI / 4) * d * d * h;

/** Torque of bearings and iron while turning, N·m. */
export function estimateFriction(stator: StatorSize): Estimate {
  return {value: 8e-4 * (volumeMm3(stator) / 2661) ** 1.5, factor: 1.5};
}

/** Inertia of the bell, kg·m²: its mass goes with the stator's volume, its radius with the diameter. */
export function estimateBellInertia(stator: StatorSize): Estimate {
  const massKg = 5e-6 * volumeMm3(stator);
  const radiusM = (stator.diameterMm / 2 + 1.5) * 1e-3;
  return {value: massKg * radiusM ** 2, factor: 1.5};
}

/** Inertia of a propeller, kg·m²: blades of 0.9 g at 5 inch, mass with the cube of the diameter, as rods about their end. */
export function estimatePropellerInertia({diameterInch, blades}: Craft['propeller']): Estimate {
  const bladeKg = 0.9e-3 * (diameterInch / 5) ** 3;
  const radiusM = (diameterInch * 0.0254) / 2;
  return {value: (blades * bladeKg * radiusM ** 2) / 3, factor: 1.5};
}

/** Internal resistance of a LiPo pack, Ω: 6 Ω·mAh per cell is common practice for packs in good health. */
export function estimatePackResistance({cells, capacityMah}: Craft['battery']): Estimate {
  return {value: (cells * 6) / capacityMah, factor: packTrust};
}

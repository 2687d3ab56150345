/**
 * What nobody measured, estimated from what a label says. Our own fits to motors drawn from 0802 to 3110 as they are built
 * (simulator/benches/draw-motor.ts); the factor given with each holds 19 of 20 of them, which estimates.test.ts counts.
 * Every number that rests on one is shown with its bounds.
 */
import type {Craft} from '../craft/craft';
import {torqueConstant} from './motor';

/** An estimate is trusted between `value / factor` and `value × factor`. */
export interface RoughEstimate {
  readonly value: number;
  readonly factor: number;
}

export interface StatorSize {
  readonly diameterMm: number;
  readonly heightMm: number;
}

/** Factors that the estimates of winding and pack are good to. */
export const resistanceTrust = 1.5;
export const inductanceTrust = 1.55;
export const packTrust = 2;
/** Factor that the margin of a start is good to: inertia of the propeller, slots and winding together. */
export const startTrust = 1.6;

/** "2207" is a stator 22 mm across and 7 mm high; "2306.5" and "1002" read alike. Undefined when it does not read. */
export function readStatorSize(size: string): StatorSize | undefined {
  const parts = /^(\d{2})(\d{2}(?:\.\d)?)$/.exec(size.trim());
  const [diameterMm, heightMm] = [Number(parts?.[1]), Number(parts?.[2])];
  return diameterMm > 0 && heightMm > 0 ? {diameterMm, heightMm} : undefined;
}

/**
 * Winding resistance in Ω: K_T² / K_M². The motor constant K_M² grows with bore and length for the torque, with the slot
 * area for the copper, and less with the length where end turns are most of a turn.
 */
export function estimateResistance({diameterMm: d, heightMm: h}: StatorSize, kv: number): RoughEstimate {
  const motorConstantSquared = 5.5e-11 * d ** 4.17 * h ** 1.41;
  return {value: torqueConstant(kv) ** 2 / motorConstantSquared, factor: resistanceTrust};
}

/** Winding inductance in H, from the electrical time constant L/R, which grows with the copper beside the iron. */
export function estimateInductance({diameterMm: d, heightMm: h}: StatorSize, resistanceOhm: number): RoughEstimate {
  return {value: resistanceOhm * 9.2e-8 * d ** 2.44 * h ** 0.08, factor: inductanceTrust};
}

/** d²·h, mm³: what iron and slots go with. */
const volume = ({diameterMm: d, heightMm: h}: StatorSize) => d * d * h;

/** Torque of bearings and iron while turning, N·m. */
export function estimateFriction(stator: StatorSize): RoughEstimate {
  return {value: 1.2e-7 * volume(stator) ** 1.03, factor: 1.35};
}

/** Torque that holds the rotor in its slots at rest, N·m. */
export function estimateCogging(stator: StatorSize): RoughEstimate {
  return {value: 1.26e-6 * volume(stator) ** 1.01, factor: 2.4};
}

/** Inertia of the bell, kg·m²: rings whose thickness goes with the diameter, and an end plate. */
export function estimateBellInertia({diameterMm: d, heightMm: h}: StatorSize): RoughEstimate {
  return {value: 2.9e-12 * d ** 3.86 * h ** 0.745, factor: 1.2};
}

/** Inertia of a propeller, kg·m²: blades of 0.9 g at 5 inch, mass with the cube of the diameter, as rods about their end. */
export function estimatePropellerInertia({diameterInch, blades}: Craft['propeller']): RoughEstimate {
  const bladeKg = 0.9e-3 * (diameterInch / 5) ** 3;
  const radiusM = (diameterInch * 0.0254) / 2;
  return {value: (blades * bladeKg * radiusM ** 2) / 3, factor: 1.5};
}

/** Internal resistance of a LiPo pack, Ω: 6 Ω·mAh per cell is common practice for packs in good health. */
export function estimatePackResistance({cells, capacityMah}: Craft['battery']): RoughEstimate {
  return {value: (cells * 6) / capacityMah, factor: packTrust};
}

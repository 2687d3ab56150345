/** The motor of a craft as the physics sees it: what the craft says, and estimates for the rest. */
import type {Craft} from '../craft/craft';
import {
  estimateBellInertia,
  estimateCogging,
  estimateFriction,
  estimateInductance,
  estimatePackResistance,
  estimatePropellerInertia,
  estimateResistance,
  readStatorSize,
  type RoughEstimate,
  type StatorSize,
} from './estimates';
import type {MotorConstants} from './motor';
import {dragOf} from './propeller';

export type CraftParts = Pick<Craft, 'motor' | 'propeller' | 'battery' | 'weightG' | 'arms'>;

/** Nominal voltage of a LiPo cell, V. */
export const nominalCellVolts = 3.7;

/** Whether the physics of a craft can be computed: what the label does not say is estimated from the stator's size. */
export const canModel = ({motor, loose}: Pick<Craft, 'motor' | 'loose'>): boolean =>
  !loose && readStatorSize(motor.size) !== undefined;

/** Stator of a craft for which {@link canModel}. */
function statorOf({motor}: Pick<Craft, 'motor'>): StatorSize {
  const stator = readStatorSize(motor.size);
  if (!stator) throw new Error(`The stator size "${motor.size}" does not read; ask canModel first`);
  return stator;
}

/** Values of the winding that the craft marks as estimated follow size and KV. */
export function withEstimates(motor: Craft['motor']): Craft['motor'] {
  const stator = readStatorSize(motor.size);
  if (!stator || !motor.estimated?.length) return motor;
  const resistanceOhm = motor.estimated.includes('resistanceOhm')
    ? estimateResistance(stator, motor.kv).value
    : motor.resistanceOhm;
  const inductanceH = motor.estimated.includes('inductanceH')
    ? estimateInductance(stator, resistanceOhm).value
    : motor.inductanceH;
  return {...motor, resistanceOhm, inductanceH};
}

/** A craft whose winding nobody measured: its values follow size and KV until somebody enters others. */
export const withEstimatedWinding = <T extends Pick<Craft, 'motor'>>(craft: T): T & Pick<Craft, 'motor'> => ({
  ...craft,
  motor: withEstimates({...craft.motor, estimated: ['resistanceOhm', 'inductanceH']}),
});

/** Pack resistance in Ω: as entered, else estimated. */
export const packResistance = ({battery}: Pick<Craft, 'battery'>): number =>
  battery.resistanceOhm ?? estimatePackResistance(battery).value;

/** Factor that a measured inertia is good to: the bounds of the motor card. */
const measuredTrust = 1.1;

/** Inertia of the bell, kg·m²: as measured on the bench, else estimated. */
export const bellInertia = (craft: Pick<Craft, 'motor'>): RoughEstimate =>
  craft.motor.measured
    ? {value: craft.motor.measured.inertia, factor: measuredTrust}
    : estimateBellInertia(statorOf(craft));

/** Constants of one motor with its propeller on; only for a craft that {@link canModel}. */
export function motorOf(craft: CraftParts): MotorConstants {
  const stator = statorOf(craft);
  const {kv, poles, resistanceOhm, inductanceH, measured} = craft.motor;
  return {
    kv,
    poles,
    resistanceOhm,
    inductanceH,
    inertia: bellInertia(craft).value + estimatePropellerInertia(craft.propeller).value,
    drag: dragOf(craft.propeller),
    friction: measured?.friction ?? estimateFriction(stator).value,
    cogging: estimateCogging(stator).value,
  };
}

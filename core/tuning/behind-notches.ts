/** One axis of a moment behind the notches of a chain: those on the motors, then the moving ones. */
import {motorSections, movingSections, type FilterChain} from '../filters/chain';
import {peaksIn} from '../filters/moving-tracker';
import type {Section} from '../filters/section';
import {attenuate, type BinAngles} from './attenuation';
import type {FlightModel, ModelMoment} from './flight-model';

export interface NotchWork {
  readonly model: FlightModel;
  readonly angles: BinAngles;
  readonly rateHz: number;
  readonly chain: FilterChain;
}

export interface Notched {
  readonly density: Float64Array;
  /** Where the moving notches sit, Hz. */
  readonly movingHz: readonly number[];
}

/** The axes of a moment; fresh arrays. A moving notch sits where the strongest peaks were half a moment earlier. */
export function behindNotches(moment: ModelMoment, {model, angles, rateHz, chain}: NotchWork): Notched[] {
  const motor = motorSections(chain, moment, rateHz);
  return moment.power.map((power, axis) => {
    const density = Float64Array.from(power);
    attenuate(density, motor, angles);
    if (!chain.moving.count) return {density, movingHz: []};
    const movingHz = peaksBehind(moment.earlier[axis]!, motor, {model, angles, chain});
    attenuate(density, movingSections(chain, movingHz, rateHz), angles);
    return {density, movingHz};
  });
}

function peaksBehind(
  earlier: Float64Array,
  motor: readonly Section[],
  {model, angles, chain}: Omit<NotchWork, 'rateHz'>,
): number[] {
  const density = Float64Array.from(earlier);
  attenuate(density, motor, angles);
  return peaksIn({density, stepHz: model.stepHz, segments: 1}, chain.moving);
}

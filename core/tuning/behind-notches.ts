/** One axis of a moment behind the notches of a chain: those on the motors, then the moving ones. */
import {motorSections, movingSections, type FilterChain} from '../filters/chain';
import {peaksIn} from '../filters/moving-tracker';
import {attenuate, type BinAngles} from './attenuation';
import type {FlightModel, ModelMoment} from './flight-model';
import {seenMoment} from './seen-moment';

interface NotchWork {
  readonly model: FlightModel;
  readonly angles: BinAngles;
  readonly rateHz: number;
  readonly chain: FilterChain;
}

interface Notched {
  readonly density: Float64Array;
  /** Where the moving notches sit, Hz. */
  readonly movingHz: readonly number[];
}

/** |H|² over the bins of what follows the motors: the same on every axis. */
export function motorGain(moment: ModelMoment, {model, angles, rateHz, chain}: NotchWork): Float64Array {
  const gain = new Float64Array(model.bins).fill(1);
  attenuate(gain, motorSections(chain, seenMoment(moment, chain.motor), rateHz), angles);
  return gain;
}

/** The axes of a moment; fresh arrays. A moving notch sits where the strongest peaks were half a moment earlier. */
export function behindNotches(moment: ModelMoment, work: NotchWork, gain = motorGain(moment, work)): Notched[] {
  const {model, angles, rateHz, chain} = work;
  return moment.power.map((power, axis) => {
    const density = power.map((v, k) => v * gain[k]!);
    if (!chain.moving.count) return {density, movingHz: []};
    const seen = moment.earlier[axis]!.map((v, k) => v * gain[k]!);
    const movingHz = peaksIn({density: seen, stepHz: model.stepHz, segments: 1}, chain.moving);
    attenuate(density, movingSections(chain, movingHz, rateHz), angles);
    return {density, movingHz};
  });
}

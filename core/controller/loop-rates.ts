/** Loop rates that are in use, and how each goes with the planned protocol. */
import type {ControllerPlan} from './plan';
import {judgePair, type PairVerdict, type SignalPlace} from './signal-pair';

/** Hz, fastest first. */
export const usualRates: readonly number[] = [8000, 6400, 4000, 3200, 2000, 1000];

/** Every usual rate, and the planned one, fastest first. */
export const loopRates = (plan: ControllerPlan, place: SignalPlace): readonly PairVerdict[] =>
  [...new Set([...usualRates, plan.loopHz])]
    .sort((a, b) => b - a)
    .map((loopHz) => judgePair(plan, {protocol: plan.protocol, replies: plan.replies, loopHz}, place));

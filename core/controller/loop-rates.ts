/** Loop rates that are in use, and how each goes with the planned protocol. */
import type {ControllerPlan} from './plan';
import {judgePair, type PairVerdict, type SignalPlace} from './signal-pair';

/** Hz, fastest first. */
export const usualRates: readonly number[] = [8000, 6400, 4000, 3200, 2000, 1000];

/** Every usual rate, and the planned one, Hz, fastest first. */
export const offeredRates = (plannedHz: number): readonly number[] =>
  [...new Set([...usualRates, plannedHz])].sort((a, b) => b - a);

/** How each of them goes with the planned protocol. */
export const loopRates = (plan: ControllerPlan, place: SignalPlace): readonly PairVerdict[] =>
  offeredRates(plan.loopHz).map((loopHz) =>
    judgePair(plan, {protocol: plan.protocol, replies: plan.replies, loopHz}, place),
  );

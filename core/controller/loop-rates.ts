/** Loop rates that are in use, and how each goes with the planned protocol. */
import type {ControllerPlan} from './plan';
import {judgePair, type PairVerdict, type SignalPlace} from './signal-pair';

/** Hz, fastest first. */
export const usualRates: readonly number[] = [8000, 6400, 4000, 3200, 2000, 1000];

/** A loop runs on every such sample of the gyro (common practice). */
const everySample = [1, 2, 4, 8] as const;

/** The usual rates and those that take whole samples of a gyro of `gyroHz`, where it is known, Hz, fastest first. */
export function ratesFor(gyroHz: number | undefined): readonly number[] {
  const [slowest] = usualRates.toSorted((a, b) => a - b);
  const whole = gyroHz === undefined ? [] : everySample.map((every) => Math.round(gyroHz / every));
  const held = whole.filter((hz) => hz >= slowest!);
  return [...new Set([...usualRates, ...held])].sort((a, b) => b - a);
}

/** Those, and the planned one. */
export const offeredRates = (plannedHz: number, gyroHz: number | undefined): readonly number[] =>
  [...new Set([...ratesFor(gyroHz), plannedHz])].sort((a, b) => b - a);

/** How each of them goes with the planned protocol. */
export const loopRates = (plan: ControllerPlan, place: SignalPlace): readonly PairVerdict[] =>
  offeredRates(plan.loopHz, place.gyroHz).map((loopHz) =>
    judgePair(plan, {protocol: plan.protocol, replies: plan.replies, loopHz}, place),
  );

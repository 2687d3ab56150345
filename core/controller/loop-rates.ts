/** Which loop rates a flight controller can hold with its planned filters and protocol. */
import {loadLimits, type LoopBudget} from '../dshot/loop-budget';
import {budgetOf} from './budget-of';
import type {ControllerConfig, ControllerPlan} from './plan';

export interface LoopRate {
  readonly loopHz: number;
  readonly budget: LoopBudget;
  readonly verdict: 'holds' | 'tight' | 'overloaded' | 'wire too slow' | 'beyond the gyro';
  /** A sentence with the figure that decides. */
  readonly why: string;
}

/** Rates that are in use, Hz. */
export const usualRates: readonly number[] = [8000, 6400, 4000, 3200, 2000, 1000];

/** Every usual rate that divides the gyro's, and the planned one, fastest first. */
export function loopRates(
  plan: ControllerPlan,
  {
    gyroHz,
    clockMhz,
    outputs,
  }: {readonly gyroHz: ControllerConfig['gyroHz']; readonly clockMhz: number; readonly outputs: number},
): readonly LoopRate[] {
  const rates = [...new Set([...usualRates, plan.loopHz])].sort((a, b) => b - a);
  return rates.map((loopHz) => {
    const budget = budgetOf({...plan, loopHz}, {clockMhz, outputs});
    return {loopHz, budget, ...judged(loopHz, budget, gyroHz)};
  });
}

function judged(
  loopHz: number,
  {load, wireFits, wire, periodUs}: LoopBudget,
  gyroHz: number,
): Pick<LoopRate, 'verdict' | 'why'> {
  const percent = `${(load * 100).toFixed(0)} %`;
  if (loopHz > gyroHz) return {verdict: 'beyond the gyro', why: `The gyro gives ${gyroHz / 1000} kHz.`};
  if (!wireFits)
    return {
      verdict: 'wire too slow',
      why: `A command with its reply takes ${wire.totalUs.toFixed(0)} µs on the wire, a loop lasts ${periodUs.toFixed(0)}.`,
    };
  if (load > loadLimits.lost)
    return {verdict: 'overloaded', why: `The gyro task takes ${percent}: beyond 65 % replies get lost.`};
  if (load > loadLimits.good)
    return {verdict: 'tight', why: `The gyro task takes ${percent}; under 50 % is good practice.`};
  return {verdict: 'holds', why: `The gyro task takes ${percent}.`};
}

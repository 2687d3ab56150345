/** The filter chain that a flight controller's configuration makes, and the formula of its load. */
import {budgetOf} from './budget-of';
import type {ControllerPlan} from './plan';
import type {FilterChain} from '../filters/chain';

/** Fields of the configuration that filters come from. */
export type FilterFields = Pick<
  ControllerPlan,
  'replies' | 'notchHarmonics' | 'notchQ' | 'notchMinHz' | 'movingNotches' | 'gyroLowPassHz'
>;

/** What a controller's firmware does without asking: entries of the simulated controllers, Plumb 2.x. */
export const fixedFilters = {
  movingQ: 3,
  movingMaxHz: 600,
  /** Butterworth, on the derivative. */
  dLowPassHz: 110,
  /** A reply is measured over one electrical turn and used one loop later, ms. */
  speedDelayMs: 1,
} as const;

/** Notches that follow motors run with replies only. */
export const chainOf = (c: FilterFields): FilterChain => ({
  motor: {
    orders: (c.replies ? c.notchHarmonics : []).map((order) => ({order, weight: 1})),
    q: c.notchQ,
    minHz: c.notchMinHz,
    fadeHz: 0,
    speedLowPassHz: 0,
    speedDelayMs: fixedFilters.speedDelayMs,
  },
  moving: {count: c.movingNotches, q: fixedFilters.movingQ, minHz: c.notchMinHz, maxHz: fixedFilters.movingMaxHz},
  gyroLowPasses: [{kind: 'biquad-lowpass', hz: c.gyroLowPassHz}],
  dLowPasses: [{kind: 'biquad-lowpass', hz: fixedFilters.dLowPassHz}],
});

/** The filter fields that make a chain, of those that a configuration has. Throws for a chain that it cannot hold. */
export function fieldsOf(chain: FilterChain): Omit<FilterFields, 'replies' | 'notchMinHz'> {
  const [low] = chain.gyroLowPasses;
  if (chain.gyroLowPasses.length !== 1 || low!.kind !== 'biquad-lowpass')
    throw new RangeError('A configuration holds one biquad low-pass');
  return {
    notchHarmonics: chain.motor.orders.map((o) => o.order),
    notchQ: chain.motor.q,
    movingNotches: chain.moving.count,
    gyroLowPassHz: low!.hz,
  };
}

/** Load of the gyro task with so many sections an axis: the loop budget's own formula. */
export function loadWith(
  plan: ControllerPlan,
  sectionsPerAxis: number,
  board: {readonly clockMhz: number; readonly outputs: number},
): number {
  const none = budgetOf({...plan, notchHarmonics: [], movingNotches: 0}, board);
  const one = budgetOf({...plan, notchHarmonics: [], movingNotches: 1}, board);
  // Two low-passes are in every budget; each section more costs the same.
  return none.load + (sectionsPerAxis - 2) * (one.load - none.load);
}

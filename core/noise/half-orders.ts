/**
 * Shake at half a motor's speed: what is loose in or on it knocks every other turn (subharmonic of one half, any text on
 * machine vibration). Tracked like the other orders, on half the speed.
 */
import type {FlightLog} from '../flight/flight-log';
import {totalAmplitude} from './order-sums';
import {trackOrders} from './order-tracking';

export interface HalfOrder {
  /** At half the speed, all axes, deg/s. */
  readonly amplitude: number;
  readonly bound: number;
  /** At the speed itself. */
  readonly atOnce: number;
}

const mostBlocks = 120;

/** One per motor; undefined where the log does not tell. */
export function halfOrders(log: FlightLog, hz: readonly Float32Array[]): (HalfOrder | undefined)[] {
  const halves = hz.map((speed) => speed.map((v) => v / 2));
  const tracked = trackOrders(log, halves, {orders: [1, 2], most: mostBlocks}) ?? [];
  return hz.map((_, motor) => {
    const [half, once] = [1, 2].map((order) => tracked[motor]?.orders.get(order));
    if (!half || !once) return undefined;
    return {...totalAmplitude(half), atOnce: totalAmplitude(once).amplitude};
  });
}

/**
 * Shake at half a motor's speed, tracked like the other orders, on half the speed (subharmonic of one half, any text on
 * machine vibration). A line keeps its amplitude however long the blocks are; noise that a resonance lets through does
 * not: blocks of two lengths tell them apart.
 */
import type {FlightLog} from '../../flight/flight-log';
import {totalAmplitude} from './order-sums';
import {decimated} from './decimated';
import {trackDecimated} from './order-tracking';
import type {Resonance} from '../resonances';

export interface HalfOrder {
  /** At half the speed, all axes, deg/s. */
  readonly amplitude: number;
  readonly bound: number;
  /** At the speed itself. */
  readonly atOnce: number;
}

const maxBlocks = 120;
const blocksS = {short: 0.3, long: 1};
/** What long blocks leave of a line at least; of noise they leave the root of the lengths' ratio, 0.55. */
const minLeft = 0.8;
/** Below this the pilot's hand, the air and the control loop shake, Hz. */
const lowestHz = 45;
/** A resonance is felt so many of its half widths to either side. */
const reach = 2;

/** One per motor; undefined where the log does not tell. */
export function halfOrders(
  log: FlightLog,
  hz: readonly Float32Array[],
  resonances: readonly Resonance[],
): (HalfOrder | undefined)[] {
  const halves = hz.map((speed) => speed.map((v) => v / 2));
  const orders = [1, 2];
  const lower = decimated(log, halves, Math.max(...orders));
  const isElse = (at: number) =>
    at < lowestHz || resonances.some((r) => Math.abs(at - r.hz) < (reach * r.hz) / (2 * r.q));
  const [short, long] = [blocksS.short, blocksS.long].map(
    (s) => trackDecimated(log, lower, {orders, most: maxBlocks, blocksS: [s], isElse}) ?? [],
  );
  return hz.map((_, motor) => {
    const [half, once, kept] = [
      short![motor]?.orders.get(1),
      short![motor]?.orders.get(2),
      long![motor]?.orders.get(1),
    ];
    if (!half || !once || !kept) return undefined;
    const [of, left] = [totalAmplitude(half), totalAmplitude(kept)];
    return left.amplitude + left.bound < minLeft * of.amplitude
      ? undefined
      : {...left, atOnce: totalAmplitude(once).amplitude};
  });
}

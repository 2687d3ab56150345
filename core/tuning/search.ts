/**
 * Looks for the chain with the least delay that leaves no more noise than asked, within the load: every candidate on every
 * flight given, judged by the flight that it serves worst. The same flights give the same answer.
 */
import {sectionsPerAxis, type FilterChain, type LowPassStage} from '../filters/chain';
import {delayLedger, totalDelayMs} from '../filters/delay-ledger';
import type {LowPassKind} from '../filters/section';
import type {FlightModel} from './flight-model';
import {lowPassEffect, type LowPassEffect} from './low-pass-effect';
import {notchedFlight} from './notched-flight';
import {throttleGroups, type GroupedFlight} from './throttle-groups';

export interface Trade {
  readonly chain: FilterChain;
  /** Phase delay of the gyro's path at the crossover, mean over the flights' moments. */
  readonly delayMs: number;
  /** Root of what is left of all axes from 80 Hz up, deg/s, of the flight that is served worst. */
  readonly left: number;
  /** What the same flight had, deg/s. */
  readonly was: number;
  /** Load of the gyro task, share. */
  readonly load: number;
}

export interface SearchQuestion {
  /** Models of the flights, see flightModel; every one has to be served. */
  readonly flights: readonly FlightModel[];
  /** What stays as it is: lowest notch frequency, fade, smoothing and lateness of speeds, D low-passes, moving range. */
  readonly from: FilterChain;
  readonly filterRateHz: number;
  readonly crossoverHz: number;
  readonly motors: number;
  /** Load of the gyro task with so many sections an axis, share: the one formula of the loop budget. */
  readonly loadOf: (sectionsPerAxis: number) => number;
  readonly mostLoad: number;
  /** Kinds of gyro low-pass that the firmware knows, and whether one can follow throttle. */
  readonly kinds: readonly LowPassKind[];
  readonly follows: boolean;
  readonly onProgress?: (share: number) => boolean;
}

/** What is tried. */
const orderSets: readonly (readonly number[])[] = [[], [1], [1, 2], [1, 3], [1, 2, 3], [1, 2, 3, 4]];
const qs = [2.5, 3.5, 5, 7, 10];
const cutOffs = [80, 100, 125, 150, 180, 220, 260, 300, 350, 400, 500, 600, 800, 1000];
/** A low-pass that follows throttle opens to so many times its cut-off, up to the highest that a configuration holds. */
const opensTo = 2;
const highestHz = 1000;
const movingCounts = [0, 1, 2];
/** Moments of each flight that candidates are tried on. */
const mostMoments = 120;

/** Every candidate within the load that no other beats in both delay and noise: least delay first. Undefined when ended. */
export function searchChains(q: SearchQuestion): Trade[] | undefined {
  const flights = q.flights.map((model): SearchedFlight => {
    const few = thinned(model, mostMoments);
    const groups = throttleGroups(few);
    return {model: few, groups, lows: lowStages(q).map((stage) => lowPassEffect(stage, {model: few, groups}, q))};
  });
  const banks = banksOf(q.from).filter(
    (b) => q.loadOf(sectionsPerAxis({...b, gyroLowPasses: []}, q.motors)) <= q.mostLoad,
  );
  const trades: Trade[] = [];
  for (let b = 0; b < banks.length; b++) {
    if (q.onProgress && !q.onProgress(b / banks.length)) return undefined;
    trades.push(...withLowPasses(flights, banks[b]!, q));
  }
  return front(trades);
}

interface SearchedFlight extends GroupedFlight {
  /** What every low-pass that is tried does to this flight. */
  readonly lows: readonly LowPassEffect[];
}

const lowStages = ({kinds, follows}: SearchQuestion): LowPassStage[] =>
  kinds.flatMap((kind) =>
    cutOffs.flatMap((hz): LowPassStage[] => [
      {kind, hz},
      ...(follows && hz < highestHz ? [{kind, hz, fullHz: Math.min(highestHz, opensTo * hz)}] : []),
    ]),
  );

function banksOf(from: FilterChain): FilterChain[] {
  return orderSets.flatMap((set) =>
    (set.length ? qs : [from.motor.q]).flatMap((q) =>
      movingCounts.map((count) => ({
        ...from,
        motor: {...from.motor, q, orders: set.map((order) => ({order, weight: 1}))},
        moving: {...from.moving, count},
        gyroLowPasses: [],
      })),
    ),
  );
}

function withLowPasses(flights: readonly SearchedFlight[], bank: FilterChain, q: SearchQuestion): Trade[] {
  const behind = flights.map(({model, groups}) => notchedFlight({model, groups}, bank, q.filterRateHz));
  const notched = behind.map(({moments}) =>
    totalDelayMs(delayLedger(bank, moments, {rateHz: q.filterRateHz, atHz: q.crossoverHz})),
  );
  if (notched.some((ms) => ms === undefined)) return [];
  return flights[0]!.lows.flatMap(({stage}, l): Trade[] => {
    const chain: FilterChain = {...bank, gyroLowPasses: [stage]};
    const load = q.loadOf(sectionsPerAxis(chain, q.motors));
    if (load > q.mostLoad) return [];
    const each = behind.map(({was, leftBehind}, i) => {
      const low = flights[i]!.lows[l]!;
      return {was, left: leftBehind(low), delayMs: notched[i]! + low.delayMs};
    });
    const worst = each.reduce((a, b) => (b.left / b.was > a.left / a.was ? b : a));
    const delayMs = each.reduce((sum, e) => sum + e.delayMs, 0) / each.length;
    return [{chain, delayMs, left: worst.left, was: worst.was, load}];
  });
}

function thinned(model: FlightModel, most: number): FlightModel {
  const stride = Math.max(1, model.moments.length / most);
  const count = Math.min(most, model.moments.length);
  return {...model, moments: Array.from({length: count}, (_, i) => model.moments[Math.floor(i * stride)]!)};
}

/** A point that is quieter by less than 2 % is no point of its own. */
const worthIt = 0.98;

/** Trades that no other beats in both, least delay first. */
export function front(trades: readonly Trade[]): Trade[] {
  const sorted = [...trades].sort((a, b) => a.delayMs - b.delayMs || a.left - b.left);
  const kept: Trade[] = [];
  let quietest = Infinity;
  for (const trade of sorted)
    if (trade.left < quietest * worthIt) {
      quietest = trade.left;
      kept.push(trade);
    }
  return kept;
}

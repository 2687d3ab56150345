/**
 * Looks for the chain with the least delay that leaves no more noise than asked, within the load: every candidate on every
 * flight given, judged by the flight that it serves worst. The same flights give the same answer.
 */
import {cutOffAt, lowPassesAt, sectionsPerAxis, type FilterChain} from '../filters/chain';
import {delayLedger, totalDelayMs} from '../filters/delay-ledger';
import {axes} from '../flight/mapping';
import {attenuate, binAngles, type BinAngles} from './attenuation';
import {behindNotches} from './behind-notches';
import type {FlightModel} from './flight-model';
import {noiseFromHz} from './forecast';

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
  readonly onProgress?: (share: number) => boolean;
}

/** What is tried. */
const orderSets: readonly (readonly number[])[] = [[], [1], [1, 2], [1, 3], [1, 2, 3], [1, 2, 3, 4]];
const qs = [2.5, 3.5, 5, 7, 10];
const cutOffs = [80, 100, 125, 150, 180, 220, 260, 300, 350, 400, 500, 600, 800, 1000];
/** Low-passes that a configuration can hold. */
const kinds = ['biquad-lowpass'] as const;
const movingCounts = [0, 1, 2];
/** Moments of each flight that candidates are tried on. */
const mostMoments = 120;

/** Every candidate within the load that no other beats in both delay and noise: least delay first. Undefined when ended. */
export function searchChains(q: SearchQuestion): Trade[] | undefined {
  const flights = q.flights.map((model) => thinned(model, mostMoments));
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

function withLowPasses(flights: readonly FlightModel[], bank: FilterChain, q: SearchQuestion): Trade[] {
  const behind = flights.map((model) => notchedFlight(model, bank, q.filterRateHz));
  const notched = behind.map((f) => f.delayOf(bank, q));
  if (notched.some((ms) => ms === undefined)) return [];
  const low = kinds.flatMap((kind) => cutOffs.map((hz): FilterChain => ({...bank, gyroLowPasses: [{kind, hz}]})));
  return low.flatMap((chain): Trade[] => {
    const load = q.loadOf(sectionsPerAxis(chain, q.motors));
    if (load > q.mostLoad) return [];
    const each = behind.map((f, i) => {
      const lowMs = lowPassDelay(chain, flights[i]!, q);
      return {...f.left(chain), delayMs: notched[i]! + lowMs};
    });
    const worst = each.reduce((a, b) => (b.left / b.was > a.left / a.was ? b : a));
    const delayMs = each.reduce((sum, e) => sum + e.delayMs, 0) / each.length;
    return [{chain, delayMs, left: worst.left, was: worst.was, load}];
  });
}

function lowPassDelay(chain: FilterChain, model: FlightModel, {filterRateHz, crossoverHz}: SearchQuestion): number {
  const only = {...chain, motor: {...chain.motor, orders: []}};
  const some = chain.gyroLowPasses.some((s) => s.fullHz !== undefined) ? model.moments : model.moments.slice(0, 1);
  const moments = some.map((m) => ({motorsHz: [], throttle: m.throttle, movingHz: []}));
  return totalDelayMs(delayLedger(only, moments, {rateHz: filterRateHz, atHz: crossoverHz})) ?? 0;
}

/** A flight behind a bank of notches: its mean density, so that low-passes are tried on one spectrum for each axis. */
function notchedFlight(model: FlightModel, bank: FilterChain, rateHz: number) {
  const angles = binAngles(model, rateHz);
  const sums = axes.map(() => new Float64Array(model.bins));
  const moments = model.moments.map((moment) => {
    const notched = behindNotches(moment, {model, angles, rateHz, chain: bank});
    notched.forEach(({density}, a) => {
      for (let k = 0; k < density.length; k++) sums[a]![k]! += density[k]!;
    });
    const {movingHz} = notched[0]!;
    return {motorsHz: moment.motorsHz, throttle: moment.throttle, movingHz};
  });
  const was = rms(model.moments.reduce((total, m) => total + noisePower(m.power, model), 0) / model.moments.length);
  return {
    delayOf: (chain: FilterChain, {crossoverHz}: SearchQuestion) =>
      totalDelayMs(delayLedger(chain, moments, {rateHz, atHz: crossoverHz})),
    left: (chain: FilterChain) => ({was, left: rms(behindLowPass(sums, chain, {model, angles, rateHz}))}),
  };
}

interface Behind {
  readonly model: FlightModel;
  readonly angles: BinAngles;
  readonly rateHz: number;
}

/** Power left from 80 Hz up; low-passes that follow throttle are taken at the flight's mean throttle. */
function behindLowPass(sums: readonly Float64Array[], chain: FilterChain, {model, angles, rateHz}: Behind): number {
  const count = model.moments.length;
  const throttle = model.moments.reduce((sum, m) => sum + m.throttle, 0) / count;
  const fixed = chain.gyroLowPasses.map((stage) => ({kind: stage.kind, hz: cutOffAt(stage, throttle)}));
  const sections = lowPassesAt(fixed, throttle, rateHz);
  const densities = sums.map((sum) => {
    const density = Float64Array.from(sum);
    attenuate(density, sections, angles);
    return density;
  });
  return noisePower(densities, model) / count;
}

function noisePower(densities: readonly Float64Array[], {stepHz}: FlightModel): number {
  let sum = 0;
  for (const density of densities)
    for (let k = Math.ceil(noiseFromHz / stepHz); k < density.length; k++) sum += density[k]!;
  return sum * stepHz;
}
const rms = (power: number) => Math.sqrt(Math.max(0, power));

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

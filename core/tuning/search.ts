/**
 * Looks for the chain with the least delay that leaves no more noise than asked, within the load: every candidate on every
 * flight given, judged by the flight that it serves worst. First in coarse steps over all that a plan may have, then in finer
 * ones beside what was good. The same flights give the same answer.
 */
import {sectionsPerAxis, type FilterChain, type LowPassStage} from '../filters/chain';
import {delayLedger, totalDelayMs} from '../filters/delay-ledger';
import type {LowPassKind} from '../filters/section';
import type {FlightModel} from './flight-model';
import {lowPassEffect, type LowPassEffect} from './low-pass-effect';
import {MotorGains} from './motor-gains';
import {notchedFlight, type NotchedFlight} from './notched-flight';
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

/** What is tried first: every Q and cut-off that a plan may have, in coarse steps. */
const orderSets: readonly (readonly number[])[] = [[], [1], [1, 2], [1, 3], [1, 2, 3], [1, 2, 3, 4]];
const qRange = {least: 1, most: 20};
const qs = [1.8, 2.5, 3.5, 5, 7, 10, 14, 20];
const hzRange = {least: 50, most: 1000};
const cutOffs = [50, 65, 80, 100, 125, 150, 180, 220, 260, 300, 350, 400, 500, 600, 800, 1000];
/** A low-pass that follows throttle opens to so many times its cut-off, up to the highest that a configuration holds. */
const opensTo = 2;
const movingCounts = [0, 1, 2];
/** Moments of each flight that candidates are tried on. */
const maxMoments = 120;
/** Then beside every good one, in steps of half the ratio each time: at the end 1.05 for Q and 1.03 for cut-offs. */
const refinements = 3;
const firstRatio = {q: 1.42, hz: 1.25};

/** Every candidate within the load that no other beats in both delay and noise: least delay first. Undefined when ended. */
export function searchChains(q: SearchQuestion): Trade[] | undefined {
  const tried = new Tried(q);
  const banks = banksOf(q.from).filter(
    (b) => q.loadOf(sectionsPerAxis({...b, gyroLowPasses: []}, q.motors)) <= q.mostLoad,
  );
  const stages = lowStages(q);
  let found: Trade[] = [];
  const steps = 1 + refinements;
  for (let b = 0; b < banks.length; b++) {
    if (q.onProgress && !q.onProgress(b / banks.length / steps)) return undefined;
    found.push(...tried.trades(banks[b]!, stages));
  }
  for (let round = 1; round <= refinements; round++) {
    found = front(found, fine);
    const more = besideAll(found, round);
    for (let i = 0; i < more.length; i++) {
      if (q.onProgress && !q.onProgress((round + i / more.length) / steps)) return undefined;
      found.push(...tried.trades(more[i]!.bank, more[i]!.stages));
    }
  }
  return front(found);
}

const lowStages = ({kinds, follows}: SearchQuestion): LowPassStage[] =>
  kinds.flatMap((kind) =>
    cutOffs.flatMap((hz): LowPassStage[] => [
      {kind, hz},
      ...(follows && hz < hzRange.most ? [{kind, hz, fullHz: Math.min(hzRange.most, opensTo * hz)}] : []),
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

interface Candidates {
  readonly bank: FilterChain;
  readonly stages: readonly LowPassStage[];
}

/** Candidates beside every chain, by banks of notches. */
function besideAll(trades: readonly Trade[], round: number): Candidates[] {
  const [byQ, byHz] = [firstRatio.q, firstRatio.hz].map((ratio) => ratio ** (1 / 2 ** round)) as [number, number];
  const banks = new Map<string, {bank: FilterChain; stages: Map<string, LowPassStage>}>();
  for (const {chain} of trades) {
    const {motor, gyroLowPasses} = chain;
    const around = [1 / byHz, 1, byHz].map((ratio) => moved(gyroLowPasses[0]!, ratio));
    for (const ratio of motor.orders.length ? [1 / byQ, 1, byQ] : [1]) {
      const q = within(qRange, Math.round(motor.q * ratio * 10) / 10);
      const bank = {...chain, motor: {...motor, q}, gyroLowPasses: []};
      const key = bankKey(bank);
      const {stages} = banks.get(key) ?? banks.set(key, {bank, stages: new Map()}).get(key)!;
      for (const stage of around) stages.set(stageKey(stage), stage);
    }
  }
  return [...banks.values()].map(({bank, stages}) => ({bank, stages: [...stages.values()]}));
}

const within = ({least, most}: {readonly least: number; readonly most: number}, v: number): number =>
  Math.min(most, Math.max(least, v));

function moved({kind, hz, fullHz}: LowPassStage, ratio: number): LowPassStage {
  const at = (v: number) => within(hzRange, Math.round(v * ratio));
  return {kind, hz: at(hz), ...(fullHz !== undefined && {fullHz: at(fullHz)})};
}

const bankKey = ({motor, moving}: FilterChain): string =>
  `${motor.orders.map((o) => o.order).join(' ')} q${motor.q} m${moving.count}`;
const stageKey = ({kind, hz, fullHz}: LowPassStage): string => `${kind} ${hz} ${fullHz ?? ''}`;

interface SearchedFlight extends GroupedFlight {
  /** What every low-pass that was tried does to this flight. */
  readonly lows: Map<string, LowPassEffect>;
  readonly gains: MotorGains;
}

/** Candidates on all flights; what a low-pass does is worked out once, and so is what a bank of notches leaves. */
class Tried {
  private readonly flights: readonly SearchedFlight[];
  private readonly banks = new Map<string, readonly {readonly behind: NotchedFlight; readonly delayMs: number}[]>();
  private readonly done = new Set<string>();

  constructor(private readonly q: SearchQuestion) {
    this.flights = q.flights.map((model) => {
      const few = thinned(model, maxMoments);
      return {model: few, groups: throttleGroups(few), lows: new Map(), gains: new MotorGains(few, q.filterRateHz)};
    });
  }

  /** Those of a bank with every low-pass that were not tried before and are within the load. */
  trades(bank: FilterChain, stages: readonly LowPassStage[]): Trade[] {
    const each = this.behind(bank);
    return stages.flatMap((stage): Trade[] => {
      const key = `${bankKey(bank)} ${stageKey(stage)}`;
      const chain: FilterChain = {...bank, gyroLowPasses: [stage]};
      const load = this.q.loadOf(sectionsPerAxis(chain, this.q.motors));
      if (this.done.has(key) || load > this.q.mostLoad || !each.length) return [];
      this.done.add(key);
      const served = each.map(({behind, delayMs}, i) => {
        const low = this.low(this.flights[i]!, stage);
        return {was: behind.was, left: behind.leftBehind(low), delayMs: delayMs + low.delayMs};
      });
      const worst = served.reduce((a, b) => (b.left / b.was > a.left / a.was ? b : a));
      const delayMs = served.reduce((sum, e) => sum + e.delayMs, 0) / served.length;
      return [{chain, delayMs, left: worst.left, was: worst.was, load}];
    });
  }

  /** One per flight; none where a notch has no delay to tell. */
  private behind(bank: FilterChain) {
    const key = bankKey(bank);
    const known = this.banks.get(key);
    if (known) return known;
    const {filterRateHz: rateHz, crossoverHz: atHz} = this.q;
    const each = this.flights.flatMap((flight) => {
      const behind = notchedFlight(flight, bank, rateHz, flight.gains);
      const delayMs = totalDelayMs(delayLedger(bank, behind.moments, {rateHz, atHz}));
      return delayMs === undefined ? [] : [{behind, delayMs}];
    });
    const whole = each.length === this.flights.length ? each : [];
    this.banks.set(key, whole);
    return whole;
  }

  private low(flight: SearchedFlight, stage: LowPassStage): LowPassEffect {
    const key = stageKey(stage);
    const known = flight.lows.get(key);
    if (known) return known;
    const effect = lowPassEffect(stage, flight, this.q);
    flight.lows.set(key, effect);
    return effect;
  }
}

function thinned(model: FlightModel, most: number): FlightModel {
  const stride = Math.max(1, model.moments.length / most);
  const count = Math.min(most, model.moments.length);
  return {...model, moments: Array.from({length: count}, (_, i) => model.moments[Math.floor(i * stride)]!)};
}

/** A point that is quieter by less than this share is no point of its own; while it is refined, by less than the second. */
const worthIt = 0.99;
const fine = 0.995;

/** Trades that no other beats in both, least delay first. */
export function front(trades: readonly Trade[], quieter = worthIt): Trade[] {
  const sorted = [...trades].sort((a, b) => a.delayMs - b.delayMs || a.left - b.left);
  const kept: Trade[] = [];
  let quietest = Infinity;
  for (const trade of sorted)
    if (trade.left < quietest * quieter) {
      quietest = trade.left;
      kept.push(trade);
    }
  return kept;
}

/** The chain that is proposed, what of it can be chosen instead, and why: predicted from flights. */
import {loadLimits} from '../../dshot/loop-budget';
import type {FilterChain} from '../../filters/chain';
import type {Flight} from '../../flight/flight';
import type {OpenFlight} from '../../noise/flight-summary';
import {noiseFromHz, rmsOfAxes} from '../../tuning/forecast';
import type {Prediction} from '../../tuning/prediction';
import type {TradePoint} from '../../tuning/proposal';
import {chainWords, reasonsFor} from '../../tuning/reasons';
import type {Trade} from '../../tuning/search';
import {wholePercent} from '../../words/percent';
import {otherFlights} from './noise';

export interface ChainNow {
  readonly trades: readonly Trade[];
  readonly chosen: Trade | undefined;
  /** Flights it was searched over, by label, and the frequency that delays are for, Hz. */
  readonly over: readonly string[];
  readonly atHz: number;
  readonly open: OpenFlight | undefined;
  readonly flights: readonly Flight[];
  readonly planned: Prediction | undefined;
  readonly plannedChain: FilterChain | undefined;
  readonly foundPoint: TradePoint | undefined;
}

interface ChainSheet {
  readonly title: string;
  /** Below the curve. */
  readonly note: string;
  readonly xName: string;
  /** What each point of the curve is, in its order. */
  readonly titles: readonly string[];
  /** Flights that the chain can be asked to serve too. */
  readonly others: readonly Flight[];
  readonly proposed: ProposedChain | undefined;
}

interface ProposedChain {
  readonly words: string;
  readonly figures: readonly ChainFigure[];
  readonly reasons: readonly string[];
  readonly isPlanned: boolean;
}

interface ChainFigure {
  readonly name: string;
  readonly value: string;
  /** What is on the craft now, for comparison. */
  readonly isFound: boolean;
}

export function chainSheet(now: ChainNow): ChainSheet {
  const {trades, chosen, over, atHz, open, flights} = now;
  return {
    title: `Delay against what is left, all axes from ${noiseFromHz} Hz up`,
    note: `Every point is a chain that no other beats in both, searched over ${over.join(', ')} within a load of ${wholePercent(loadLimits.good)}. The same flight gives the same curve. Points are predicted.`,
    xName: `delay at ${atHz.toFixed(0)} Hz, ms`,
    titles: trades.map((t) => `${t.delayMs.toFixed(2)} ms, ${t.left.toFixed(2)} deg/s: ${chainWords(t.chain)}`),
    others: otherFlights(flights, open),
    proposed: trades.length && chosen ? proposedChain(chosen, now) : undefined,
  };
}

function proposedChain(chosen: Trade, now: ChainNow): ProposedChain {
  const words = chainWords(chosen.chain);
  return {
    ...{words, figures: figuresOf(chosen, now), reasons: reasonsOf(chosen, now)},
    isPlanned: now.plannedChain !== undefined && words === chainWords(now.plannedChain),
  };
}

function figuresOf({delayMs, was, left, load}: Trade, {atHz, foundPoint}: ChainNow): ChainFigure[] {
  const ms = (v: number) => `${v.toFixed(2)} ms`;
  const rate = (v: number) => `${v.toFixed(2)} deg/s`;
  const onCraft = (value: (p: TradePoint) => string): ChainFigure[] =>
    foundPoint ? [{name: 'on the craft', value: value(foundPoint), isFound: true}] : [];
  return [
    {name: `delay at ${atHz.toFixed(0)} Hz`, value: ms(delayMs), isFound: false},
    ...onCraft((p) => ms(p.delayMs)),
    {name: `left of ${was.toFixed(1)} deg/s`, value: rate(left), isFound: false},
    ...onCraft((p) => rate(p.left)),
    {name: 'load of the gyro task', value: wholePercent(load), isFound: false},
  ];
}

function reasonsOf({chain}: Trade, {open, planned}: ChainNow): readonly string[] {
  const forecast = planned?.forecast;
  if (!open || !forecast) return [];
  return reasonsFor(chain, open.summary.report, rmsOfAxes(forecast.asFlown, forecast.stepHz, noiseFromHz));
}

/** Flights beside the open one that a search takes in: the worker holds three. */
const maxOthers = 2;

/** The flights to serve too with one more of them, or one less; of more than can be held the first goes. */
export const withFlight = (ids: readonly string[], id: string): readonly string[] =>
  ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id].slice(-maxOthers);

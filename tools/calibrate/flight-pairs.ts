/**
 * How often two flights are told apart that differ in nothing, and how often the stated bound holds: drawn pairs by the
 * class of what else differs between them.
 */
import {compareFlights} from '@core/noise/compare/compare-flights';
import {drawnCraft, fly, type FlightTruth} from './drawn-flights';

/** What differs between two flights of a craft beside what is asked for. */
interface PairClass {
  readonly before?: Partial<FlightTruth>;
  readonly after?: Partial<FlightTruth>;
  /** Amplitude of every motor after, over that before. */
  readonly left?: number;
}

export const pairClasses: Readonly<Record<string, PairClass>> = {
  alike: {},
  'wanders by 10 %': {before: {wander: 0.1}, after: {wander: 0.1}},
  'wanders by 25 %': {before: {wander: 0.25}, after: {wander: 0.25}},
  'other rates': {before: {rate: 2000}, after: {rate: 1000}},
  'rates beside a power of two': {before: {rate: 1600}, after: {rate: 3200}},
  'more wind and throttle': {after: {gusts: 45, throttle: 0.11, lift: 1.1}},
  'a tenth less': {left: 0.9},
  'less than half': {left: 0.4, before: {wander: 0.1}, after: {wander: 0.1}},
};

interface PairCounts {
  readonly pairs: number;
  readonly quieter: number;
  readonly louder: number;
  /** Pairs whose true change lies within the stated bound. */
  readonly within: number;
  /** Mean error and mean bound, dB. */
  readonly errorDb: number;
  readonly boundDb: number;
}

/** Draws `pairs` flights twice each, from `seed` on. */
export function calibratePairs(name: string, pairs: number, seed: number): PairCounts {
  const {before, after, left = 1} = pairClasses[name]!;
  const truth = -20 * Math.log10(left);
  const counts = {pairs, quieter: 0, louder: 0, within: 0, errorDb: 0, boundDb: 0};
  for (let i = 0; i < pairs; i++) {
    const craft = drawnCraft(seed + i);
    const [a, b] = [before, after].map((over, k) => {
      const flown = fly({...craft, loud: craft.loud.map((l) => (k ? l * left : l))}, 2 * (seed + i) + k, over);
      return {log: flown, motorsHz: flown.speeds.hz.map((hz) => hz.map((v) => (2 * v) / craft.poles))};
    });
    const compared = compareFlights(a!, b!);
    const change = compared.kind === 'compared' ? compared.atOnce : undefined;
    if (!change) continue;
    if (change.db > change.bound) counts.quieter++;
    if (change.db < -change.bound) counts.louder++;
    if (Math.abs(change.db - truth) <= change.bound) counts.within++;
    counts.errorDb += (change.db - truth) / pairs;
    counts.boundDb += change.bound / pairs;
  }
  return counts;
}

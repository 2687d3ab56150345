/** What a chain would leave of a recorded flight: predicted, never a proof. */
import {axes} from '../flight/mapping';
import {lowPassesAt, type FilterChain, type LowPassStage} from '../filters/chain';
import type {LedgerMoment} from '../filters/delay-ledger';
import {attenuate, binAngles, type BinAngles} from './attenuation';
import {behindNotches} from './behind-notches';
import type {FlightModel} from './flight-model';
import {seenMoment} from './seen-moment';

export interface Forecast {
  readonly stepHz: number;
  /** Moments that the means are of. */
  readonly segments: number;
  /** Mean density of roll, pitch, yaw as recorded, behind the chain, and of its derivative behind the D low-pass. */
  readonly asFlown: readonly Float64Array[];
  readonly left: readonly Float64Array[];
  /** (deg/s²)²/Hz. */
  readonly dAsFlown: readonly Float64Array[];
  readonly dLeft: readonly Float64Array[];
  /** Where the filters were, moment by moment: for the ledger. */
  readonly moments: readonly LedgerMoment[];
}

export function forecast(model: FlightModel, chain: FilterChain, filterRateHz: number): Forecast {
  const angles = binAngles(model, filterRateHz);
  const zero = () => axes.map(() => new Float64Array(model.bins));
  const [asFlown, left, dLeft] = [zero(), zero(), zero()];
  const moments: LedgerMoment[] = [];
  const gains = lowPassGains(model, angles, filterRateHz);
  for (const moment of model.moments) {
    const {throttle} = moment;
    const [low, dLow] = [gains.of(chain.gyroLowPasses, throttle), gains.of(chain.dLowPasses, throttle)];
    const notched = behindNotches(moment, {model, angles, rateHz: filterRateHz, chain});
    notched.forEach(({density}, a) => {
      add(asFlown[a]!, moment.power[a]!);
      addTimes(left[a]!, density, low);
      for (let k = 0; k < density.length; k++) density[k]! *= low[k]!;
      addTimes(dLeft[a]!, density, dLow);
    });
    const {movingHz} = notched[0]!;
    moments.push({...seenMoment(moment, chain.motor), movingHz});
  }
  const count = Math.max(1, model.moments.length);
  const mean = (sums: readonly Float64Array[]) => sums.map((s) => s.map((v) => v / count));
  const flown = mean(asFlown);
  const derive = (d: Float64Array) => d.map((v, k) => v * (2 * Math.PI * k * model.stepHz) ** 2);
  return {
    ...{stepHz: model.stepHz, segments: model.moments.length, moments},
    asFlown: flown,
    left: mean(left),
    dAsFlown: flown.map(derive),
    dLeft: mean(dLeft).map(derive),
  };
}

function add(sum: Float64Array, values: Float64Array): void {
  for (let k = 0; k < sum.length; k++) sum[k]! += values[k]!;
}

function addTimes(sum: Float64Array, values: Float64Array, gain: Float64Array): void {
  for (let k = 0; k < sum.length; k++) sum[k]! += values[k]! * gain[k]!;
}

/** |H|² of low-passes; those that do not follow throttle are computed once. */
function lowPassGains({bins}: FlightModel, angles: BinAngles, rateHz: number) {
  const fixed = new Map<readonly LowPassStage[], Float64Array>();
  const compute = (stages: readonly LowPassStage[], throttle: number) => {
    const gain = new Float64Array(bins).fill(1);
    attenuate(gain, lowPassesAt(stages, throttle, rateHz), angles);
    return gain;
  };
  return {
    of(stages: readonly LowPassStage[], throttle: number): Float64Array {
      if (stages.some((s) => s.fullHz !== undefined)) return compute(stages, throttle);
      const known = fixed.get(stages) ?? compute(stages, throttle);
      fixed.set(stages, known);
      return known;
    },
  };
}

/** Root of the power between two frequencies, unit of the signal; the upper one may lie beyond the last bin. */
export function rmsBetween(density: Float64Array, stepHz: number, fromHz: number, toHz = Infinity): number {
  let sum = 0;
  const last = Math.min(density.length - 1, Math.floor(toHz / stepHz));
  for (let k = Math.ceil(fromHz / stepHz); k <= last; k++) sum += density[k]! * stepHz;
  return Math.sqrt(sum);
}

/** Of all axes together: root of the sum of their squares. */
export const rmsOfAxes = (
  densities: readonly Float64Array[],
  stepHz: number,
  fromHz: number,
  toHz = Infinity,
): number => Math.hypot(...densities.map((d) => rmsBetween(d, stepHz, fromHz, toHz)));

/** Frequency from which on movement is noise: below it the craft flies, Hz (common practice). */
export const noiseFromHz = 80;

/** Bands that noise is told in, Hz; the last ends at half the log's rate. */
export const bands: readonly (readonly [number, number])[] = [
  [20, noiseFromHz],
  [noiseFromHz, 250],
  [250, 500],
  [500, Infinity],
];

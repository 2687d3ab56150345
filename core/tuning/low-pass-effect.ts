/** What one low-pass does to a flight: its gain at every group of moments and its mean delay. Nothing of it depends on notches. */
import {lowPassesAt, type LowPassStage} from '../filters/chain';
import {phaseDelayS} from '../filters/response';
import {attenuate, binAngles} from './attenuation';
import {meanThrottles, type GroupedFlight} from './throttle-groups';

export interface LowPassEffect {
  readonly stage: LowPassStage;
  readonly delayMs: number;
  /** |H|² over the bins, for each group of moments; one for all where it does not follow throttle. */
  readonly gains: readonly Float64Array[];
}

export function lowPassEffect(
  stage: LowPassStage,
  {model, groups}: GroupedFlight,
  {filterRateHz, crossoverHz}: {readonly filterRateHz: number; readonly crossoverHz: number},
): LowPassEffect {
  const angles = binAngles(model, filterRateHz);
  const means = meanThrottles(model, groups);
  const throttles = stage.fullHz === undefined ? means.slice(0, 1) : means;
  const gains = throttles.map((throttle) => {
    const gain = new Float64Array(model.bins).fill(1);
    attenuate(gain, lowPassesAt([stage], throttle, filterRateHz), angles);
    return gain;
  });
  const at = stage.fullHz === undefined ? model.moments.slice(0, 1) : model.moments;
  const delays = at.map((m) => phaseDelayS(lowPassesAt([stage], m.throttle, filterRateHz), crossoverHz, filterRateHz));
  return {stage, gains, delayMs: (1000 * delays.reduce((sum, s) => sum + s, 0)) / Math.max(1, delays.length)};
}

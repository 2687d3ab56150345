/**
 * A flight behind a bank of notches: the power of all axes, summed over groups of moments of like throttle, so that every
 * low-pass is tried on a handful of spectra, those that follow throttle too.
 */
import type {FilterChain} from '../filters/chain';
import type {LedgerMoment} from '../filters/delay-ledger';
import {binAngles} from './attenuation';
import {behindNotches} from './behind-notches';
import {noiseFromHz} from './forecast';
import type {LowPassEffect} from './low-pass-effect';
import {MotorGains} from './motor-gains';
import {seenMoment} from './seen-moment';
import {groupCount, type GroupedFlight} from './throttle-groups';

export interface NotchedFlight {
  readonly moments: readonly LedgerMoment[];
  /** Root of the noise of all axes without filters, deg/s. */
  readonly was: number;
  /** The same behind the notches and a low-pass. */
  readonly leftBehind: (low: LowPassEffect) => number;
}

/** @param gains of the same flight and rate, where several banks are tried on it. */
export function notchedFlight(
  {model, groups}: GroupedFlight,
  bank: FilterChain,
  rateHz: number,
  gains = new MotorGains(model, rateHz),
): NotchedFlight {
  const angles = binAngles(model, rateHz);
  const sums = Array.from({length: groupCount}, () => new Float64Array(model.bins));
  const moments = model.moments.map((moment, i) => {
    const notched = behindNotches(moment, {model, angles, rateHz, chain: bank}, gains.of(bank, i));
    const sum = sums[groups[i]!]!;
    for (const {density} of notched) for (let k = 0; k < density.length; k++) sum[k]! += density[k]!;
    return {...seenMoment(moment, bank.motor), movingHz: notched[0]!.movingHz};
  });
  const all = sums[0]!.map((_, k) => sums.reduce((total, sum) => total + sum[k]!, 0));
  const from = Math.ceil(noiseFromHz / model.stepHz);
  const rms = (power: number) => Math.sqrt(Math.max(0, (power * model.stepHz) / Math.max(1, moments.length)));
  const behind = (sum: Float64Array, gain: Float64Array) => {
    let power = 0;
    for (let k = from; k < sum.length; k++) power += sum[k]! * gain[k]!;
    return power;
  };
  const flat = new Float64Array(model.bins).fill(1);
  const raw = model.moments.reduce((total, m) => m.power.reduce((t, axis) => t + behind(axis, flat), total), 0);
  return {
    moments,
    was: rms(raw),
    leftBehind: ({gains}) =>
      rms(gains.length === 1 ? behind(all, gains[0]!) : gains.reduce((p, gain, g) => p + behind(sums[g]!, gain), 0)),
  };
}

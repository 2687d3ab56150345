/** Power spectral density after Welch (1967): Hann window, half overlap, never across a break of the log. */
import {Periodogram, type Samples, type SegmentJob} from './periodogram';
import {segmentStarts, type Part} from './segments';

export interface Spectrum {
  /** Frequency of bin k is k · stepHz. */
  readonly stepHz: number;
  /** One-sided density, unit²/Hz. */
  readonly density: Float64Array;
  readonly segments: number;
}

interface WelchOptions {
  readonly sampleRateHz: number;
  /** Power of two. */
  readonly segment: number;
  /** Parts of the signal without a break; all of it where none are given. */
  readonly parts?: readonly Part[] | undefined;
}

/** Throws when no part is as long as one segment. */
export function welch(signal: Samples, {sampleRateHz, segment, parts}: WelchOptions): Spectrum {
  const starts = segmentStarts(parts ?? [{start: 0, end: signal.length}], {segment, hop: segment / 2});
  if (!starts.length)
    throw new RangeError(`No part of ${signal.length} samples is as long as one segment of ${segment}`);
  const periodogram = new Periodogram(segment, sampleRateHz);
  const density = new Float64Array(periodogram.bins);
  const job = (at: number | undefined): SegmentJob | undefined =>
    at === undefined ? undefined : {signal, at, sum: density, offset: 0};
  for (let i = 0; i < starts.length; i += 2) periodogram.accumulatePair(job(starts[i])!, job(starts[i + 1]));
  for (let k = 0; k < density.length; k++) density[k]! /= starts.length;
  return {stepHz: sampleRateHz / segment, density, segments: starts.length};
}

export const decibels = (density: number): number => 10 * Math.log10(Math.max(density, 1e-30));

/**
 * Segments that were as good if they did not overlap: K / (1 + 2·Σ (K−j)/K · ρ(j·hop)²) (Welch 1967), where Hann windows
 * apart by a share τ of their length are correlated by ρ = (1−τ)(2 + cos 2πτ)/3 + sin 2πτ/2π; by 1/6 at a half.
 */
export function independentSegments(segments: number, hopShare = 0.5): number {
  let sum = 0;
  for (let j = 1; j * hopShare < 1 && j < segments; j++) {
    const turn = 2 * Math.PI * j * hopShare;
    const correlation = ((1 - j * hopShare) * (2 + Math.cos(turn))) / 3 + Math.sin(turn) / (2 * Math.PI);
    sum += ((segments - j) / segments) * correlation ** 2;
  }
  return segments / (1 + 2 * sum);
}

/** Bounds of a Welch estimate with 95 % certainty, as factors of the density: χ² with two degrees of freedom a segment. */
export function welchBounds(segments: number, hopShare = 0.5): {readonly least: number; readonly most: number} {
  const freedom = 2 * independentSegments(segments, hopShare);
  return {least: freedom / chiSquare(freedom, 1.96), most: freedom / chiSquare(freedom, -1.96)};
}

/** The same bounds in decibels below and above. */
export function decibelBounds(segments: number, hopShare?: number): {readonly below: number; readonly above: number} {
  const {least, most} = welchBounds(segments, hopShare);
  return {below: -decibels(least), above: decibels(most)};
}

/** Quantile of χ² whose normal deviate is `z`, after Wilson and Hilferty (1931); within 1 % from 4 degrees of freedom on. */
const chiSquare = (freedom: number, z: number): number => {
  const part = 2 / (9 * freedom);
  return freedom * Math.max(1e-3, 1 - part + z * Math.sqrt(part)) ** 3;
};

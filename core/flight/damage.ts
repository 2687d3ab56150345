/** What a log holds that was not measured: rows filled in for missing ones, and a gyro at the end of its range. */
import type {Axis} from './mapping';
import {axes} from './mapping';

interface Clipping {
  readonly axis: Axis;
  /** Where it ends, deg/s. */
  readonly atDegS: number;
  /** Of the flight, 0…1. */
  readonly share: number;
}

export interface Damage {
  /** Samples that were filled in along a straight line, share of the flight, 0…1. */
  readonly filled: number;
  readonly clipping: readonly Clipping[];
  /** 1 where a sample is not a measurement of every axis. */
  readonly unmeasured: Uint8Array;
  /** Samples up to and without this one that were filled in, and that are at an end: a window's are a difference. */
  readonly filledBefore: Int32Array;
  readonly clippedBefore: Int32Array;
}

/** Undefined where everything was measured. @param rowOf negative where a sample was filled in. */
export function findDamage(gyro: Readonly<Record<Axis, Float32Array>>, rowOf: Int32Array): Damage | undefined {
  const samples = rowOf.length;
  const clipped = new Uint8Array(samples);
  const clipping = axes.flatMap((axis) => clippedIn(axis, gyro[axis], clipped));
  if (!clipping.length && !rowOf.some((row) => row < 0)) return undefined;
  const unmeasured = clipped.map((at, i) => (at || rowOf[i]! < 0 ? 1 : 0));
  const filledBefore = new Int32Array(samples + 1);
  const clippedBefore = new Int32Array(samples + 1);
  for (let i = 0; i < samples; i++) {
    filledBefore[i + 1] = filledBefore[i]! + (rowOf[i]! < 0 ? 1 : 0);
    clippedBefore[i + 1] = clippedBefore[i]! + clipped[i]!;
  }
  return {...{clipping, unmeasured, filledBefore, clippedBefore}, filled: filledBefore[samples]! / samples};
}

/** Share of a window that was filled in or stands at an end, 0…1. */
export function damagedShare({filledBefore, clippedBefore}: Damage, at: number, length: number) {
  const within = (before: Int32Array) => (before[at + length]! - before[at]!) / length;
  return {filled: within(filledBefore), clipped: within(clippedBefore)};
}

/** Samples at an end that a signal needs at least, and how many times as many as at any value next to it. */
const minAtEnd = 10;
const pileUp = 5;
/** Values next to the end that it is held against. */
const beside = 20;

/**
 * A gyro at its end piles up samples at one value, which a signal that turns there by itself does not. Marks them in
 * `clipped`.
 */
function clippedIn(axis: Axis, signal: Float32Array, clipped: Uint8Array): Clipping[] {
  return [1, -1].flatMap((way) => {
    let end = -Infinity;
    for (const v of signal) if (way * v > end) end = way * v;
    if (!(end > 0)) return [];
    const counts = countsFrom(signal, way, end);
    const [atEnd = 0, ...next] = counts;
    const usual = next.reduce((most, c) => Math.max(most, c), 1);
    if (atEnd < minAtEnd || atEnd < pileUp * usual) return [];
    for (let i = 0; i < signal.length; i++) if (way * signal[i]! === end) clipped[i] = 1;
    return [{axis, atDegS: way * end, share: atEnd / signal.length}];
  });
}

/** How often the largest value occurs, then the next ones below it. */
function countsFrom(signal: Float32Array, way: number, end: number): number[] {
  // Only the top of a signal is counted: a hundredth of its height is enough to find the next values.
  for (let share = 0.01; ; share *= 4) {
    const counts = new Map<number, number>();
    for (const v of signal) if (way * v >= end * (1 - share)) counts.set(way * v, (counts.get(way * v) ?? 0) + 1);
    if (counts.size <= beside && share < 0.25) continue;
    return [...counts.keys()]
      .sort((a, b) => b - a)
      .slice(0, beside + 1)
      .map((v) => counts.get(v)!);
  }
}

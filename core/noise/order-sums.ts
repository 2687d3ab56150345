/** Adds up what blocks say of each line, and makes amplitudes with bounds of it. */
import {axes, type Axis} from '../flight/mapping';
import type {Line, Phasor} from './block-fit';

export interface OrderAmplitude {
  /** Root of the mean square over the blocks used, deg/s peak. */
  readonly amplitude: number;
  /** Half width of the 95 % interval, deg/s. */
  readonly bound: number;
  /** Blocks it was measured in. */
  readonly blocks: number;
  /** By how much it runs ahead of the same line on roll, −180…180°: nothing else marks the turn of a bell in flight. */
  readonly phaseDeg: number;
  /** How steady that is from block to block, 0…1. */
  readonly steadiness: number;
}

export interface LineSample {
  /** Over that of a line alone. */
  readonly variance: number;
  /** Square of the amplitude and what noise adds to it, axis by axis. */
  readonly squares: readonly number[];
  readonly noises: readonly number[];
  readonly phasors: readonly Phasor[];
}

/** A block whose variance is so many times that of a line alone does not count: another motor is too near. */
const mostVariance = 4;
/** Blocks a figure needs. */
const fewest = 5;

export class OrderSums {
  private readonly samples = new Map<string, LineSample[]>();

  constructor(motors: number, orders: readonly number[]) {
    for (let motor = 0; motor < motors; motor++)
      for (const order of orders) this.samples.set(keyOf({motor, order}), []);
  }

  add(line: Line, sample: LineSample): void {
    if (Number.isFinite(sample.variance)) this.samples.get(keyOf(line))!.push(sample);
  }

  amplitudes(motor: number, order: number): Readonly<Record<Axis, OrderAmplitude>> | undefined {
    const all = this.samples.get(keyOf({motor, order})) ?? [];
    const used = all.filter((s) => s.variance <= mostVariance);
    if (used.length < fewest) return undefined;
    return Object.fromEntries(axes.map((axis, a) => [axis, amplitudeOf(used, a)])) as Record<Axis, OrderAmplitude>;
  }
}

const keyOf = ({motor, order}: Line) => `${motor} ${order}`;

/** A block whose noise beside the line is so many times the usual does not count: a resonance stands there. */
const mostNoise = 8;

/** Mean square less what noise adds; its scatter from block to block gives the bound. Blocks overlap by half. */
function amplitudeOf(samples: readonly LineSample[], axis: number): OrderAmplitude {
  const usual = samples.map((s) => s.noises[axis]!).sort((a, b) => a - b)[samples.length >> 1]!;
  const quiet = samples.filter((s) => s.noises[axis]! <= mostNoise * usual);
  const values = quiet.map((s) => s.squares[axis]! - s.noises[axis]!);
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const spread = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1));
  const independent = Math.max(2, values.length / 2);
  const amplitude = Math.sqrt(Math.max(0, mean));
  const error = (1.96 * spread) / Math.sqrt(independent);
  // Of a root: half the relative error; where the mean drowns in its error, the error's own root.
  const bound = mean > error ? error / (2 * amplitude) : Math.sqrt(Math.max(0, mean + error)) - amplitude;
  return {amplitude, bound, blocks: values.length, ...phaseOf(quiet, axis)};
}

/** Mean turn of the axis against roll, block by block, each by what both weigh. */
function phaseOf(samples: readonly LineSample[], axis: number): {phaseDeg: number; steadiness: number} {
  let [re, im, all] = [0, 0, 0];
  for (const {phasors} of samples) {
    const [roll, own] = [phasors[0]!, phasors[axis]!];
    const [r, i] = [own.re * roll.re + own.im * roll.im, own.im * roll.re - own.re * roll.im];
    [re, im, all] = [re + r, im + i, all + Math.hypot(r, i)];
  }
  return {phaseDeg: (Math.atan2(im, re) * 180) / Math.PI, steadiness: all > 0 ? Math.hypot(re, im) / all : 0};
}

/** Root of the sum of squares over the axes, with its bound. */
export function totalAmplitude(orders: Readonly<Record<Axis, OrderAmplitude>>): {amplitude: number; bound: number} {
  const squares = axes.reduce((sum, a) => sum + orders[a].amplitude ** 2, 0);
  const amplitude = Math.sqrt(squares);
  const error = Math.sqrt(axes.reduce((sum, a) => sum + (orders[a].amplitude * orders[a].bound) ** 2, 0));
  return {amplitude, bound: amplitude > 0 ? error / amplitude : 0};
}

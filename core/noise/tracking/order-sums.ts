/** Adds up what blocks say of each line, and makes amplitudes with bounds of it. */
import {axes, type Axis} from '../../flight/mapping';
import type {Line, Phasor} from './block-fit';
import {criticalValue, fitLaw, speedTerms} from './log-law';
import {upperMedian} from '../../numbers/median';
import {normal95} from '../../numbers/student';

export interface OrderAmplitude {
  /** At the speed `atHz`, by the law that the blocks follow, deg/s peak. */
  readonly amplitude: number;
  /** Half width of the 95 % interval, deg/s. */
  readonly bound: number;
  /** The speed that the amplitude is told for: the middle one of the blocks used, revolutions per second. */
  readonly atHz: number;
  /** Blocks it was measured in, and how long each is, s. */
  readonly blocks: number;
  readonly blockS: number;
  /** By how much it runs ahead of the same line on roll, −180…180°: nothing else marks the turn of a bell in flight. */
  readonly phaseDeg: number;
  /** How steady that is from block to block, 0…1. */
  readonly steadiness: number;
}

interface LineSample {
  /** Middle of the block since the log's first sample, s. */
  readonly atS: number;
  /** Of the motor, revolutions per second. */
  readonly speedHz: number;
  /** Over that of a line alone. */
  readonly variance: number;
  /** Square of the amplitude and what noise adds to it, axis by axis. */
  readonly squares: readonly number[];
  readonly noises: readonly number[];
  readonly phasors: readonly Phasor[];
}

/** A block whose variance is so many times that of a line alone does not count: another motor is too near. */
const maxVariance = 4;
/** Blocks a figure needs. */
const fewest = 5;

export class OrderSums {
  private readonly samples = new Map<string, LineSample[]>();
  private readonly offered = new Set<string>();

  /** @param blockS length of the blocks that are added up. */
  constructor(
    motors: number,
    orders: readonly number[],
    private readonly blockS: number,
  ) {
    for (let motor = 0; motor < motors; motor++)
      for (const order of orders) this.samples.set(keyOf({motor, order}), []);
  }

  add(line: Line, sample: LineSample): void {
    this.offered.add(keyOf(line));
    if (Number.isFinite(sample.variance)) this.samples.get(keyOf(line))!.push(sample);
  }

  /** Whether enough blocks tell a line from the other motors' lines. */
  isTold(line: Line): boolean {
    return this.usedOf(line).length >= fewest;
  }

  /** Whether a line was looked for and not told: it is within half the log's rate. */
  isOpen(line: Line): boolean {
    return this.offered.has(keyOf(line)) && !this.isTold(line);
  }

  amplitudes(motor: number, order: number): Readonly<Record<Axis, OrderAmplitude>> | undefined {
    const used = this.usedOf({motor, order});
    if (used.length < fewest) return undefined;
    return Object.fromEntries(axes.map((axis, a) => [axis, {...amplitudeOf(used, a), blockS: this.blockS}])) as Record<
      Axis,
      OrderAmplitude
    >;
  }

  private usedOf(line: Line): readonly LineSample[] {
    return (this.samples.get(keyOf(line)) ?? []).filter((s) => s.variance <= maxVariance);
  }
}

const keyOf = ({motor, order}: Line) => `${motor} ${order}`;

/** A block whose noise beside the line is so many times the usual does not count: a resonance stands there. */
const maxNoise = 8;

/** The noise beside a line may be another than on it by this share: its slope, and what else is near. */
const noiseDoubt = 0.2;

/** Square less what noise adds, by the law of speed; bounds from the scatter between blocks and from the noise. */
function amplitudeOf(samples: readonly LineSample[], axis: number): Omit<OrderAmplitude, 'blockS'> {
  const usual = upperMedian(samples.map((s) => s.noises[axis]!));
  const quiet = samples.filter((s) => s.noises[axis]! <= maxNoise * usual);
  const y = quiet.map((s) => s.squares[axis]! - s.noises[axis]!);
  const atHz = upperMedian(quiet.map((s) => s.speedHz));
  const terms = speedTerms(
    quiet.map((s) => s.speedHz),
    atHz,
  );
  const law = fitLaw({rows: terms.map((t) => [1, ...t]), y, atS: quiet.map((s) => s.atS)});
  const square = law ? Math.exp(law.b[0]!) : Math.max(0, mean(y));
  const noise = mean(quiet.map((s) => s.noises[axis]!));
  // |A + n|² scatters by 2·A²·n² + n⁴; blocks overlap by half.
  const ofNoise = (2 * square * noise + noise ** 2) / Math.max(1, quiet.length / 2) + (noiseDoubt * noise) ** 2;
  const scatter = law
    ? square * law.boundOf(0)
    : criticalValue * Math.sqrt(variance(y) / Math.max(1, quiet.length / 2));
  // What the noise hides is the same in every block: the scatter between them does not show it, and its size is known.
  const error = Math.hypot(normal95 * Math.sqrt(ofNoise), scatter);
  const amplitude = Math.sqrt(square);
  // Of a root: half the relative error; where the square drowns in its error, the error's own root.
  const bound = square > error ? error / (2 * amplitude) : Math.sqrt(square + error) - amplitude;
  return {amplitude, bound, atHz, blocks: quiet.length, ...phaseOf(quiet, axis)};
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
const variance = (values: readonly number[]): number => {
  const m = mean(values);
  return values.reduce((sum, v) => sum + (v - m) ** 2, 0) / Math.max(1, values.length - 1);
};

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
  const most = Math.sqrt(axes.reduce((sum, a) => sum + orders[a].bound ** 2, 0));
  // Where nothing stands out of the noise, what the axes' bounds leave together.
  return {amplitude, bound: amplitude > most ? error / amplitude : most};
}

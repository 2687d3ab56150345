/**
 * Amplitudes of what each motor makes, at multiples of its speed, by least squares at all motors' speeds at once: in blocks,
 * on the phase that the logged speeds add up to (Vold and Leuridan 1993 give the idea of fitting orders on their phase; the
 * blocks and bounds are our own). Two motors close in speed make a block's equations nearly singular: its variance says
 * so, and such blocks do not count. Amplitudes are peak values, deg/s.
 */
import {axes, type Axis} from '../../flight/mapping';
import type {FlightLog} from '../../flight/flight-log';
import {hann} from '../../spectra/periodogram';
import {BlockFit, Scratch, type Line} from './block-fit';
import {decimated, type Decimated, type LineLog} from './decimated';
import {measuredPart} from './measured-part';
import {momentsOf, type Moment} from './moments';
import {OrderSums, type OrderAmplitude} from './order-sums';

export interface MotorOrders {
  /** Undefined where an order lies beyond half the log's rate, or no block tells it from the other motors. */
  readonly orders: ReadonlyMap<number, Readonly<Record<Axis, OrderAmplitude>> | undefined>;
}

interface OrderQuestion {
  readonly orders: readonly number[];
  /** Blocks to fit; more change the mean by less than its bound. */
  readonly most?: number;
  /** Lengths of blocks to try in turn, s. */
  readonly blocksS?: readonly number[];
  /** Frequencies at which something else than a motor shakes: a line there is not taken, Hz. */
  readonly isElse?: (hz: number) => boolean;
  readonly onProgress?: ((share: number) => boolean) | undefined;
}

/**
 * Lengths of blocks, s. The first tells motors 4 Hz apart and is short enough that the phase of speeds rounded by replies
 * holds; longer ones are fitted only where a line is not told from another motor's by those before.
 */
const usualBlocksS = [0.3, 1, 2];
/** A block in which a motor's speed changes by more than this share is left out. */
const maxChange = 0.2;
/** So near to half the log's rate, as a share of it, a line is not fitted. */
const edge = 0.03;
/** Filled rows have no weight; a block of which more than this share is filled is left out. */
const maxFilled = 0.3;
/** Blocks that are fitted where nothing else is asked. */
const maxBlocks = 300;

export function trackOrders(
  whole: FlightLog,
  speeds: readonly Float32Array[],
  q: OrderQuestion,
): MotorOrders[] | undefined {
  return trackDecimated(whole, decimated(whole, speeds, Math.max(...q.orders)), q);
}

/** The same of a log that was brought to a lower rate already. */
export function trackDecimated(
  whole: Pick<FlightLog, 'jitter' | 'sampleRateHz'>,
  {log, hz}: Decimated,
  q: OrderQuestion,
): MotorOrders[] | undefined {
  const {blocksS = usualBlocksS} = q;
  const done: OrderSums[] = [];
  const lines = hz.flatMap((_, motor) => q.orders.map((order) => ({motor, order})));
  for (const [i, blockS] of blocksS.entries()) {
    if (i > 0 && !lines.some((line) => done.every((sums) => sums.isOpen(line)))) break;
    const part = (share: number) => q.onProgress?.((i + share) / blocksS.length) ?? true;
    const sums = sumBlocks(log, hz, {...q, blockS, onProgress: part});
    if (!sums) return undefined;
    done.push(sums);
  }
  const amplitudes = (motor: number, order: number) => {
    const told = done.find((sums) => sums.isTold({motor, order}))?.amplitudes(motor, order);
    return told && whole.jitter ? withJitter(told, order, whole.jitter / whole.sampleRateHz) : told;
  };
  return hz.map((_, motor) => ({orders: new Map(q.orders.map((order) => [order, amplitudes(motor, order)]))}));
}

/**
 * Stamps that jitter may say when samples were really taken: a line of frequency f then lost all but e^(−(2πfσ)²/2) of its
 * amplitude (the characteristic function of a normal spread), which the bound must reach.
 */
function withJitter(
  told: Readonly<Record<Axis, OrderAmplitude>>,
  order: number,
  jitterS: number,
): Readonly<Record<Axis, OrderAmplitude>> {
  const widened = axes.map((axis) => {
    const own = told[axis];
    const left = Math.exp(-((2 * Math.PI * order * own.atHz * jitterS) ** 2) / 2);
    return [axis, {...own, bound: own.bound + own.amplitude * (1 / left - 1)}];
  });
  return Object.fromEntries(widened) as Record<Axis, OrderAmplitude>;
}

/** Everything that blocks of one length say; undefined when it was ended. */
function sumBlocks(
  log: LineLog,
  hz: readonly Float32Array[],
  {orders, most = maxBlocks, blockS, isElse, onProgress}: OrderQuestion & {readonly blockS: number},
): OrderSums | undefined {
  const length = Math.round(blockS * log.sampleRateHz);
  const moments = momentsOf(log, hz, {
    length,
    hop: Math.floor(length / 2),
    maxChange,
    most,
    maxFilled,
  });
  const window = hann(length);
  const sums = new OrderSums(hz.length, orders, blockS);
  const scratch = new Scratch();
  for (let i = 0; i < moments.length; i++) {
    fitBlock(log, hz, moments[i]!, {orders, window, sums, isElse, scratch});
    if (onProgress && i % 10 === 0 && !onProgress(i / moments.length)) return undefined;
  }
  return sums;
}

interface BlockWork {
  readonly orders: readonly number[];
  readonly window: Float64Array;
  readonly sums: OrderSums;
  readonly isElse: OrderQuestion['isElse'];
  readonly scratch: Scratch;
}

function fitBlock(
  log: LineLog,
  hz: readonly Float32Array[],
  moment: Moment,
  {orders, window, sums, isElse, scratch}: BlockWork,
): void {
  const half = log.sampleRateHz / 2;
  const hzOf = ({motor, order}: Line) => order * moment.motorsHz[motor]!;
  // A line beyond half the rate aliases down among the others: it is fitted with them, and not told. At half the rate and
  // its multiples a line has no sine.
  const lines = moment.motorsHz
    .flatMap((_, motor) => orders.map((order) => ({motor, order})))
    .filter((line) => Math.abs(hzOf(line) / half - Math.round(hzOf(line) / half)) > edge || hzOf(line) < half / 2);
  const isWithin = (line: Line) => hzOf(line) < (1 - edge) * half;
  if (!lines.some(isWithin)) return;
  const whole = {window, hz, at: moment.at, gyro: axes.map((axis) => log.gyro[axis])};
  const lowestHz = Math.min(...lines.map(hzOf));
  const {gyro, ...block} = log.damage ? measuredPart(whole, log, lowestHz) : whole;
  const fit = new BlockFit({lines, ...block, sampleRateHz: log.sampleRateHz, scratch});
  // Speeds come rounded and late: what the phase is off by is fitted too, from all axes together.
  fit.refine(gyro);
  const solved = gyro.map((signal) => fit.solve(signal));
  lines.forEach((line, l) => {
    if (!isWithin(line) || isElse?.(hzOf(line))) return;
    const variance = fit.varianceOf(l);
    sums.add(line, {
      atS: (moment.at + window.length / 2) / log.sampleRateHz,
      speedHz: moment.motorsHz[line.motor]!,
      variance,
      squares: solved.map((s) => s?.squares[l] ?? NaN),
      noises: solved.map((s) => s?.noises[l] ?? NaN),
      phasors: solved.map((s) => s?.phasors[l] ?? {re: 0, im: 0}),
    });
  });
}

/**
 * Amplitudes of what each motor makes, at multiples of its speed, by least squares at all motors' speeds at once: in blocks,
 * on the phase that the logged speeds add up to (Vold and Leuridan 1993 give the idea of fitting orders on their phase; the
 * blocks and bounds are our own). Two motors close in speed make a block's equations nearly singular: its variance says
 * so, and such blocks do not count. Amplitudes are peak values, deg/s.
 */
import {axes, type Axis} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {hann} from '../spectra/periodogram';
import {BlockFit} from './block-fit';
import {momentsOf, type Moment} from './moments';
import {OrderSums, type OrderAmplitude} from './order-sums';

export interface MotorOrders {
  /** Undefined where an order lies beyond half the log's rate, or no block tells it from the other motors. */
  readonly orders: ReadonlyMap<number, Readonly<Record<Axis, OrderAmplitude>> | undefined>;
}

export interface OrderQuestion {
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
const mostChange = 0.2;
/** Blocks that are fitted where nothing else is asked. */
const mostBlocks = 300;

export function trackOrders(log: FlightLog, hz: readonly Float32Array[], q: OrderQuestion): MotorOrders[] | undefined {
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
  const amplitudes = (motor: number, order: number) =>
    done.find((sums) => sums.isTold({motor, order}))?.amplitudes(motor, order);
  return hz.map((_, motor) => ({orders: new Map(q.orders.map((order) => [order, amplitudes(motor, order)]))}));
}

/** Everything that blocks of one length say; undefined when it was ended. */
function sumBlocks(
  log: FlightLog,
  hz: readonly Float32Array[],
  {orders, most = mostBlocks, blockS, isElse, onProgress}: OrderQuestion & {readonly blockS: number},
): OrderSums | undefined {
  const length = Math.round(blockS * log.sampleRateHz);
  const moments = momentsOf(log, hz, {length, hop: Math.floor(length / 2), mostChange, most});
  const window = hann(length);
  const sums = new OrderSums(hz.length, orders, blockS);
  for (let i = 0; i < moments.length; i++) {
    fitBlock(log, hz, moments[i]!, {orders, window, sums, isElse});
    if (onProgress && i % 10 === 0 && !onProgress(i / moments.length)) return undefined;
  }
  return sums;
}

interface BlockWork {
  readonly orders: readonly number[];
  readonly window: Float64Array;
  readonly sums: OrderSums;
  readonly isElse: OrderQuestion['isElse'];
}

function fitBlock(
  log: FlightLog,
  hz: readonly Float32Array[],
  moment: Moment,
  {orders, window, sums, isElse}: BlockWork,
): void {
  const half = log.sampleRateHz / 2;
  const lines = moment.motorsHz.flatMap((speed, motor) =>
    orders.filter((order) => order * speed < 0.97 * half).map((order) => ({motor, order})),
  );
  if (!lines.length) return;
  const fit = new BlockFit({lines, hz, at: moment.at, window, sampleRateHz: log.sampleRateHz});
  const gyro = axes.map((axis) => log.gyro[axis]);
  // Speeds come rounded and late: what the phase is off by is fitted too, from all axes together.
  fit.refine(gyro);
  const solved = gyro.map((signal) => fit.solve(signal));
  lines.forEach((line, l) => {
    if (isElse?.(line.order * moment.motorsHz[line.motor]!)) return;
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

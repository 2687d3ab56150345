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
  readonly onProgress?: ((share: number) => boolean) | undefined;
}

/** Long enough to tell motors 4 Hz apart, short enough that the phase of speeds rounded by replies holds, s. */
const blockS = 0.3;
/** A block in which a motor's speed changes by more than this share is left out. */
const mostChange = 0.2;
/** Blocks that are fitted where nothing else is asked. */
const mostBlocks = 300;

export function trackOrders(log: FlightLog, hz: readonly Float32Array[], q: OrderQuestion): MotorOrders[] | undefined {
  const length = Math.round(blockS * log.sampleRateHz);
  const moments = momentsOf(log, hz, {length, hop: Math.floor(length / 2), mostChange, most: q.most ?? mostBlocks});
  const window = hann(length);
  const sums = new OrderSums(hz.length, q.orders);
  for (let i = 0; i < moments.length; i++) {
    fitBlock(log, hz, moments[i]!, {orders: q.orders, window, sums});
    if (q.onProgress && i % 10 === 0 && !q.onProgress(i / moments.length)) return undefined;
  }
  return hz.map((_, motor) => ({
    orders: new Map(q.orders.map((order) => [order, sums.amplitudes(motor, order)])),
  }));
}

interface BlockWork {
  readonly orders: readonly number[];
  readonly window: Float64Array;
  readonly sums: OrderSums;
}

function fitBlock(
  log: FlightLog,
  hz: readonly Float32Array[],
  moment: Moment,
  {orders, window, sums}: BlockWork,
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
    const variance = fit.varianceOf(l);
    sums.add(line, {
      variance,
      squares: solved.map((s) => s?.squares[l] ?? NaN),
      noises: solved.map((s) => s?.noises[l] ?? NaN),
      phasors: solved.map((s) => s?.phasors[l] ?? {re: 0, im: 0}),
    });
  });
}

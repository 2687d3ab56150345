/** What each moment of a flight has on its motors' lines and beside them. */
import {axes} from '../../flight/mapping';
import type {FlightLog} from '../../flight/flight-log';
import {Periodogram} from '../../spectra/periodogram';
import {linePower, type SpeedRange} from './line-power';
import {momentsOf} from '../tracking/moments';

export interface Side {
  readonly log: FlightLog;
  /** Revolutions per second, one column per motor. */
  readonly motorsHz: readonly Float32Array[];
}

export interface MomentPower {
  /** Since the log's first sample, s. */
  readonly atS: number;
  /** Mean over the motors, revolutions per second. */
  readonly speedHz: number;
  /** By axis, then by order, (deg/s)² above the floor; NaN where the line reaches beyond the band. */
  readonly lines: readonly (readonly number[])[];
  /** The same with the floor in it. */
  readonly whole: readonly (readonly number[])[];
  /** By axis, beside all lines. */
  readonly rest: readonly number[];
}

interface Question {
  readonly isFiltered: boolean;
  readonly toHz: number;
  readonly orders: readonly number[];
}

const momentS = 0.128;
const maxChange = 0.08;
const maxMoments = 1500;
/** Noise begins here, Hz: below it the craft flies. */
const fromHz = 60;
/** Half of a Hann window's main lobe, in widths of one over its length (Harris 1978). */
const lobeBins = 2;
/** Bins lie at least so close, Hz: lines of two logs are cut alike though their rates differ. */
const finestHz = 2;

export function momentPowers({log, motorsHz}: Side, {isFiltered, toHz, orders}: Question): MomentPower[] {
  const {sampleRateHz: rate} = log;
  const length = Math.round(momentS * rate);
  const size = 2 ** Math.ceil(Math.log2(Math.max(length, rate / finestHz)));
  const periodogram = new Periodogram(length, rate, size);
  const gyro = isFiltered ? log.filteredGyro! : log.gyro;
  const lobeHz = (lobeBins * rate) / length;
  // Without overlap, so that moments share no samples.
  return momentsOf(log, motorsHz, {length, hop: length, maxChange, most: maxMoments}).map((moment) => {
    const motors = motorsHz.map((hz) => rangeOf(hz, moment.at, length));
    const powers = axes.map((axis) => {
      const density = new Float64Array(periodogram.bins);
      periodogram.accumulate(gyro[axis], moment.at, density);
      return linePower(density, {stepHz: periodogram.stepHz, lobeHz, motors, orders, band: {fromHz, toHz}});
    });
    const isWithin = orders.map((order) =>
      motors.every(({least, most}) => order * least - lobeHz > fromHz && order * most + lobeHz < toHz),
    );
    const known = (values: readonly number[]) => values.map((v, o) => (isWithin[o] ? v : NaN));
    return {
      atS: moment.at / rate,
      speedHz: moment.motorsHz.reduce((sum, v) => sum + v, 0) / motors.length,
      lines: powers.map((p) => known(p.lines)),
      whole: powers.map((p) => known(p.whole)),
      rest: powers.map((p) => p.rest),
    };
  });
}

function rangeOf(hz: Float32Array, at: number, length: number): SpeedRange {
  let [least, most] = [Infinity, 0];
  for (let i = at; i < at + length; i++) {
    least = Math.min(least, hz[i]!);
    most = Math.max(most, hz[i]!);
  }
  return {least, most};
}

/**
 * Two flights of one craft held against each other at equal motor speeds: every axis, motor lines and the rest apart, with
 * 95 % bounds from the scatter between moments. What the controller used is compared: the gyro behind its filters, where
 * both logs have it.
 */
import {axes, type Axis} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {Periodogram} from '../spectra/periodogram';
import {linePower} from './line-power';
import {momentsOf} from './moments';

export interface Change {
  /** Before over after, dB: positive where it is quieter. */
  readonly db: number;
  /** Half width of the 95 % interval, dB. */
  readonly bound: number;
}

export interface AxisChange {
  readonly axis: Axis;
  /** On the lines at once, twice and three times the motors' speeds; undefined where no bin has enough moments. */
  readonly lines: readonly (Change | undefined)[];
  /** Beside the lines. */
  readonly rest: Change | undefined;
  /** Level in each speed bin, dB re 1 (deg/s)²: of all lines together. */
  readonly before: readonly number[];
  readonly after: readonly number[];
}

export interface FlightComparison {
  readonly kind: 'compared';
  /** Lower edges of the speed bins and their width, revolutions per second. */
  readonly speedHz: readonly number[];
  readonly stepHz: number;
  /** Moments before and after, bin by bin. */
  readonly moments: readonly (readonly [number, number])[];
  readonly axes: readonly AxisChange[];
  /** All axes together, on the lines at once the speed, and beside all lines. */
  readonly atOnce: Change | undefined;
  readonly rest: Change | undefined;
  /** Whether the gyro behind the controller's filters was compared. */
  readonly isFiltered: boolean;
}

export interface NoComparison {
  readonly kind: 'not comparable';
  readonly why: string;
}

export interface Side {
  readonly log: FlightLog;
  readonly motorsHz: readonly Float32Array[];
}

export const comparedOrders = [1, 2, 3];
const momentS = 0.128;
const mostChange = 0.08;
const mostMoments = 1500;
const bins = 8;
/** Moments that a bin needs on either side. */
const fewest = 4;
/** Noise begins here, Hz: below it the craft flies. */
const fromHz = 60;

export function compareFlights(before: Side, after: Side): FlightComparison | NoComparison {
  const isFiltered = before.log.filteredGyro !== undefined && after.log.filteredGyro !== undefined;
  if (!isFiltered && (before.log.filteredGyro === undefined) !== (after.log.filteredGyro === undefined))
    return {
      kind: 'not comparable',
      why: 'One log has the gyro behind its filters, the other has not; export both alike.',
    };
  const [a, b] = [before, after].map((side) => momentPowers(side, isFiltered));
  if (!a!.length || !b!.length)
    return {kind: 'not comparable', why: 'A flight has no moment with all motors turning steadily.'};
  const range = commonRange(a!, b!);
  if (!range)
    return {
      kind: 'not comparable',
      why: 'The motors turned at different speeds in the two flights: no speed is common to both.',
    };
  const binned = Array.from({length: bins}, (_, i) => {
    const within = (m: MomentPower) => binOf(m.speedHz, range) === i;
    return {before: a!.filter(within), after: b!.filter(within)};
  });
  const used = binned.filter((bin) => bin.before.length >= fewest && bin.after.length >= fewest);
  if (!used.length) return {kind: 'not comparable', why: 'Too few moments at equal speeds in the two flights.'};
  return comparison(binned, used, {range, isFiltered});
}

interface Bin {
  readonly before: readonly MomentPower[];
  readonly after: readonly MomentPower[];
}

function comparison(
  binned: readonly Bin[],
  used: readonly Bin[],
  {range, isFiltered}: {readonly range: Range; readonly isFiltered: boolean},
): FlightComparison {
  const changeOf = (value: (m: MomentPower) => number) => meanChange(used, value);
  const db = (moments: readonly MomentPower[], value: (m: MomentPower) => number) =>
    moments.length ? 10 * Math.log10(mean(moments.map(value)) + 1e-12) : NaN;
  return {
    ...{kind: 'compared', isFiltered},
    speedHz: binned.map((_, i) => range.from + i * range.step),
    stepHz: range.step,
    moments: binned.map((bin) => [bin.before.length, bin.after.length]),
    axes: axes.map((axis, x) => {
      const all = (m: MomentPower) => m.lines[x]!.reduce((sum, v) => sum + v, 0);
      return {
        axis,
        lines: comparedOrders.map((_, o) => changeOf((m) => m.lines[x]![o]!)),
        rest: changeOf((m) => m.rest[x]!),
        before: binned.map((bin) => db(bin.before, all)),
        after: binned.map((bin) => db(bin.after, all)),
      };
    }),
    atOnce: changeOf((m) => m.lines.reduce((sum, l) => sum + l[0]!, 0)),
    rest: changeOf((m) => m.rest.reduce((sum, v) => sum + v, 0)),
  };
}

interface MomentPower {
  /** Mean over the motors. */
  readonly speedHz: number;
  /** By axis, then by order. */
  readonly lines: readonly (readonly number[])[];
  readonly rest: readonly number[];
}

function momentPowers({log, motorsHz}: Side, isFiltered: boolean): MomentPower[] {
  const length = 2 ** Math.round(Math.log2(momentS * log.sampleRateHz));
  const periodogram = new Periodogram(length, log.sampleRateHz);
  const gyro = isFiltered ? log.filteredGyro! : log.gyro;
  // Without overlap, so that moments do not share samples and their scatter tells the bound.
  const moments = momentsOf(log, motorsHz, {length, hop: length, mostChange, most: mostMoments});
  return moments.map((moment) => {
    const powers = axes.map((axis) => {
      const density = new Float64Array(periodogram.bins);
      periodogram.accumulate(gyro[axis], moment.at, density);
      return linePower(density, {
        stepHz: periodogram.stepHz,
        motorsHz: moment.motorsHz,
        orders: comparedOrders,
        fromHz,
      });
    });
    return {speedHz: mean(moment.motorsHz), lines: powers.map((p) => p.lines), rest: powers.map((p) => p.rest)};
  });
}

interface Range {
  readonly from: number;
  readonly step: number;
}

function commonRange(a: readonly MomentPower[], b: readonly MomentPower[]): Range | undefined {
  const ends = [a, b].map((list) => list.map((m) => m.speedHz).sort((x, y) => x - y));
  const from = Math.max(ends[0]![0]!, ends[1]![0]!);
  const to = Math.min(ends[0]!.at(-1)!, ends[1]!.at(-1)!);
  return to > from * 1.02 ? {from, step: (to - from) / bins} : undefined;
}

const binOf = (hz: number, {from, step}: Range): number =>
  hz === from + bins * step ? bins - 1 : Math.floor((hz - from) / step);

/** Mean over the bins of the change in each: no speed counts more because it was flown longer. */
function meanChange(used: readonly Bin[], value: (m: MomentPower) => number): Change | undefined {
  // A bin whose lines lie beyond half the log's rate has no level.
  const each = used
    .map((bin) => {
      const [x, y] = [logMean(bin.before.map(value)), logMean(bin.after.map(value))];
      return {db: x.db - y.db, variance: x.variance + y.variance};
    })
    .filter((e) => Number.isFinite(e.db) && Number.isFinite(e.variance));
  if (!each.length) return undefined;
  const variance = each.reduce((sum, e) => sum + e.variance, 0) / each.length ** 2;
  return {db: mean(each.map((e) => e.db)), bound: 1.96 * Math.sqrt(variance)};
}

/** Level of a mean power, dB, and the variance of that: (10/ln 10)² · var/(n·mean²). */
function logMean(values: readonly number[]): {db: number; variance: number} {
  const m = mean(values);
  const spread = values.reduce((sum, v) => sum + (v - m) ** 2, 0) / (values.length - 1);
  return {db: 10 * Math.log10(m), variance: (10 / Math.LN10) ** 2 * (spread / (values.length * m * m))};
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

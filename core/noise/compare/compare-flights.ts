/**
 * Two flights of one craft held against each other at equal motor speeds: every axis, motor lines above their floor and
 * the rest apart, in the same band and with the same resolution whatever the logs' rates, with 95 % bounds that do not
 * take neighbouring moments for independent. What the controller used is compared: the gyro behind its filters, where
 * both logs have it.
 */
import {axes, type Axis} from '../../flight/mapping';
import {levelChange, type Change, type Series} from './level-change';
import {momentPowers, type MomentPower, type Side} from './moment-powers';

export type {Change} from './level-change';
export type {Side} from './moment-powers';

interface AxisChange {
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

export const comparedOrders = [1, 2, 3];
const bins = 8;
/** Moments that a bin needs on either side. */
const fewest = 4;
/** The band ends here, as a share of the lower of both rates: filters before sampling begin to act there. */
const bandShare = 0.45;

export function compareFlights(before: Side, after: Side): FlightComparison | NoComparison {
  const isFiltered = before.log.filteredGyro !== undefined && after.log.filteredGyro !== undefined;
  if (!isFiltered && (before.log.filteredGyro === undefined) !== (after.log.filteredGyro === undefined))
    return {
      kind: 'not comparable',
      why: 'One log has the gyro behind its filters, the other has not; export both alike.',
    };
  const toHz = bandShare * Math.min(before.log.sampleRateHz, after.log.sampleRateHz);
  const [a, b] = [before, after].map((side) => momentPowers(side, {isFiltered, toHz, orders: comparedOrders}));
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
  const changeOf = (value: Value) => changeIn(used, value);
  const lineChange = (of: (m: MomentPower, kind: 'lines' | 'whole') => number) =>
    // A line that drowns in its floor has no level of its own: with the floor in it, it changed by no less than is said.
    changeOf((m) => of(m, 'lines')) ?? changeOf((m) => of(m, 'whole'));
  const db = (moments: readonly MomentPower[], value: Value) => {
    const known = moments.map(value).filter((v) => !Number.isNaN(v));
    return known.length ? 10 * Math.log10(Math.max(0, mean(known)) + 1e-12) : NaN;
  };
  return {
    ...{kind: 'compared', isFiltered},
    speedHz: binned.map((_, i) => range.from + i * range.step),
    stepHz: range.step,
    moments: binned.map((bin) => [bin.before.length, bin.after.length]),
    axes: axes.map((axis, x) => {
      const all = (m: MomentPower) => sum(m.whole[x]!.filter((v) => !Number.isNaN(v)));
      return {
        axis,
        lines: comparedOrders.map((_, o) => lineChange((m, kind) => m[kind][x]![o]!)),
        rest: changeOf((m) => m.rest[x]!),
        before: binned.map((bin) => db(bin.before, all)),
        after: binned.map((bin) => db(bin.after, all)),
      };
    }),
    atOnce: lineChange((m, kind) => sum(m[kind].map((l) => l[0]!))),
    rest: changeOf((m) => sum(m.rest)),
  };
}

type Value = (m: MomentPower) => number;

/** Over the moments whose speeds both flights have; those in which a line lies beyond the band do not tell. */
function changeIn(used: readonly Bin[], value: Value): Change | undefined {
  const seriesOf = (side: keyof Bin): Series => {
    const moments = used.flatMap((bin) => bin[side]).filter((m) => !Number.isNaN(value(m)));
    moments.sort((x, y) => x.atS - y.atS);
    return {atS: moments.map((m) => m.atS), speedHz: moments.map((m) => m.speedHz), power: moments.map(value)};
  };
  return levelChange(seriesOf('before'), seriesOf('after'));
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

const sum = (values: readonly number[]): number => values.reduce((all, v) => all + v, 0);
const mean = (values: readonly number[]): number => sum(values) / values.length;

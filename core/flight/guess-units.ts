/** Units of columns: from the unit a name gives, else from the range. What stays open is a question. */
import type {gyroUnits, speedUnits, throttleUnits, timeUnits} from './mapping';
import type {TableHead} from './table-head';
import {wordsOf} from './column-words';

export interface Guessed<T> {
  readonly value: T;
  readonly question?: string;
}
type TimeUnit = (typeof timeUnits)[number];
type GyroUnit = (typeof gyroUnits)[number];
type ThrottleUnit = (typeof throttleUnits)[number];
export interface SpeedUnit {
  readonly unit: (typeof speedUnits)[number];
  readonly scale: number;
}

/** Words of the name, its unit among them. */
const said = (head: TableHead, column: number): string[] => wordsOf(head.names[column]!);
const within = (head: TableHead, columns: readonly number[]) =>
  columns.flatMap((c) => [...head.sample[c]!]).filter((v) => Number.isFinite(v));
const largest = (values: readonly number[]) => values.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
const quoted = (head: TableHead, column: number) => `"${head.names[column]}"`;

/** Rates that gyros are logged at: at no other unit would one step of time give one, Hz. */
const logRate = {least: 50, most: 50_000};

export function timeUnitOf(head: TableHead, column: number): Guessed<TimeUnit> {
  const step = usualStep(head.sample[column]!);
  const fits = (['s', 'ms', 'µs'] as const).filter((unit) => {
    const rate = secondsIn[unit] / step;
    return rate >= logRate.least && rate <= logRate.most;
  });
  const words = said(head, column);
  const named = words.some((w) => ['us', 'µs', 'usec', 'micros', 'microseconds'].includes(w))
    ? 'µs'
    : words.some((w) => ['ms', 'msec', 'millis', 'milliseconds'].includes(w))
      ? 'ms'
      : words.some((w) => ['s', 'sec', 'secs', 'seconds'].includes(w))
        ? 's'
        : undefined;
  // A name that the steps belie does not count: at that rate no gyro is logged.
  if (named && (fits.includes(named) || !fits.length)) return {value: named};
  if (fits.length) return {value: fits[0]!};
  return {
    value: 'µs',
    question: `Time ${quoted(head, column)} is taken for µs; no unit gives a rate that gyros are logged at.`,
  };
}

/** Steps of a unit in one second. */
export const secondsIn: Readonly<Record<TimeUnit, number>> = {s: 1, ms: 1e3, µs: 1e6};

function usualStep(values: Float64Array): number {
  const steps: number[] = [];
  for (let i = 1; i < values.length; i++) if (values[i]! > values[i - 1]!) steps.push(values[i]! - values[i - 1]!);
  if (!steps.length) return NaN;
  const median = steps.sort((a, b) => a - b)[steps.length >> 1]!;
  // Times rounded to a coarse tick repeat; then the mean says more than the median.
  const mean = (values.at(-1)! - values[0]!) / (values.length - 1);
  return steps.length < 0.8 * (values.length - 1) && mean > 0 ? mean : median;
}

export function gyroUnitOf(head: TableHead, columns: readonly number[]): Guessed<GyroUnit> {
  const words = columns.flatMap((c) => said(head, c));
  if (words.some((w) => ['deg', 'dps', 'degs', 'degrees', '°'].includes(w))) return {value: 'deg/s'};
  if (words.some((w) => ['rad', 'rads', 'radians'].includes(w))) return {value: 'rad/s'};
  const values = within(head, columns);
  const most = largest(values);
  const whole = values.every((v) => Number.isInteger(v));
  // Gyros on flight controllers reach 2000 deg/s, some 4000 (common practice).
  if (whole && most > 4000)
    return {
      value: 'raw',
      question: 'The gyro is taken for raw steps of a 16-bit sensor of ±2000 deg/s; say what one step is.',
    };
  const spread = Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / Math.max(1, values.length));
  if (!whole && most < 12 && spread < 0.8)
    return {value: 'rad/s', question: 'The gyro is taken for rad/s, from its small range; its name gives no unit.'};
  return {value: 'deg/s'};
}

export function throttleUnitOf(head: TableHead, column: number): Guessed<ThrottleUnit> {
  const words = said(head, column);
  const values = within(head, [column]);
  const most = largest(values);
  if (words.some((w) => ['us', 'µs', 'pwm'].includes(w)) || (most > 800 && most < 2300 && Math.min(...values) > 700))
    return {value: 'µs'};
  if (words.some((w) => ['pct', 'percent', '%'].includes(w))) return {value: '%'};
  if (most <= 1.01) return {value: '0–1'};
  if (most <= 110) return {value: '%'};
  return {value: 'µs', question: `Throttle ${quoted(head, column)} is taken for µs; its range fits no unit well.`};
}

/** A motor with its propeller turns up to about 1,000 times a second, and has up to 14 pole pairs (common practice). */
const fastest = {hz: 1200, rpm: 72_000};

export function speedUnitOf(head: TableHead, columns: readonly number[]): Guessed<SpeedUnit> {
  const words = columns.flatMap((c) => said(head, c));
  const is = (...list: string[]) => words.some((w) => list.includes(w));
  const most = largest(within(head, columns));
  const plain = (unit: SpeedUnit['unit']) => ({value: {unit, scale: 1}});
  if (!columns.length) return plain('eRPM');
  if (is('period', 'interval', 'us', 'µs')) return plain('period');
  if (is('erpm') || (is('electrical') && is('rpm'))) {
    const hundreds = is('100') || (most > 0 && most < 8000);
    return {
      value: {unit: 'eRPM', scale: hundreds ? 100 : 1},
      ...(hundreds && !is('100') ? {question: 'Speeds are taken for hundreds of eRPM, from their range.'} : {}),
    };
  }
  if (is('rpm')) {
    if (most <= fastest.rpm) return plain('rpm');
    return {
      value: {unit: 'eRPM', scale: 1},
      question: 'Speeds are named rpm, but no motor turns that fast: taken for eRPM.',
    };
  }
  if (is('hz', 'rps', 'freq', 'frequency', 'rev', 'revs') || most <= fastest.hz) return plain('Hz');
  const unit = most <= fastest.rpm ? 'rpm' : 'eRPM';
  return {...plain(unit), question: `Speeds ${quoted(head, columns[0]!)} are taken for ${unit}, from their range.`};
}

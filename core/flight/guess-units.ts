/** Units of columns: from the unit a name gives, else from the range. What stays open is a question. */
import type {gyroUnits, speedUnits, throttleUnits, timeUnits, UnitOf} from './mapping';
import type {TableHead} from './table-head';
import {wordsOf} from './column-words';
import {median} from '../numbers/median';

interface Guessed<T> {
  readonly value: T;
  readonly question?: UnitQuestion;
}

/** A unit that no name gives: what it was taken for, and what fits too. */
export interface UnitQuestion {
  readonly about: UnitOf;
  readonly taken: string;
  /** Units that the numbers allow beside it. */
  readonly others: readonly string[];
  readonly text: string;
}
type TimeUnit = (typeof timeUnits)[number];
type GyroUnit = (typeof gyroUnits)[number];
type ThrottleUnit = (typeof throttleUnits)[number];
interface SpeedUnit {
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
    question: {
      ...{about: 'time', taken: 'µs', others: ['ms', 's']},
      text: `Time ${quoted(head, column)} is taken for µs; no unit gives a rate that gyros are logged at.`,
    },
  };
}

/** Steps of a unit in one second. */
export const secondsIn: Readonly<Record<TimeUnit, number>> = {s: 1, ms: 1e3, µs: 1e6};

function usualStep(values: Float64Array): number {
  const steps: number[] = [];
  for (let i = 1; i < values.length; i++) if (values[i]! > values[i - 1]!) steps.push(values[i]! - values[i - 1]!);
  if (!steps.length) return NaN;
  // Times rounded to a coarse tick repeat; then the mean says more than the median.
  const mean = (values.at(-1)! - values[0]!) / (values.length - 1);
  return steps.length < 0.8 * (values.length - 1) && mean > 0 ? mean : median(steps);
}

/** Gyros on flight controllers reach 2000 deg/s, some 4000 (common practice); 2000 deg/s are 35 rad/s. */
const reach = {degS: 4000, radS: 35};
/** Turning faster than this on average is no flight, deg/s; more than the lesser is rare. */
const usualRms = {rare: 100, most: 300};
/** A flight that never turns faster is one in rad/s, or one that hardly moves. */
const slowest = 12;
/** Steps this fine are finer than a gyro's own in deg/s: 1/16.4 (common practice). */
const fineStep = 0.003;

export function gyroUnitOf(head: TableHead, columns: readonly number[]): Guessed<GyroUnit> {
  const words = columns.flatMap((c) => said(head, c));
  if (words.some((w) => ['deg', 'dps', 'degs', 'degrees', '°'].includes(w))) return {value: 'deg/s'};
  if (words.some((w) => ['rad', 'rads', 'radians'].includes(w))) return {value: 'rad/s'};
  const values = within(head, columns);
  return values.every((v) => Number.isInteger(v)) ? wholeGyro(words, values) : brokenGyro(values);
}

/** Whole numbers: steps of the sensor, or deg/s that were rounded. */
function wholeGyro(words: readonly string[], values: readonly number[]): Guessed<GyroUnit> {
  const [most, spread] = [largest(values), rms(values)];
  const has = (...names: string[]) => words.some((w) => names.includes(w));
  // "raw" may also mean: before the filters.
  const isRaw = has('lsb', 'adc', 'counts', 'count') || (has('raw') && spread > usualRms.rare);
  if (most > reach.degS || spread > usualRms.most || isRaw)
    return {
      value: 'raw',
      question: {
        ...{about: 'gyro', taken: 'raw', others: most > reach.degS ? [] : ['deg/s']},
        text: 'The gyro is taken for raw steps of a 16-bit sensor of ±2000 deg/s; say what one step is.',
      },
    };
  return spread <= usualRms.rare && !has('raw')
    ? {value: 'deg/s'}
    : {
        value: 'deg/s',
        question: {
          ...{about: 'gyro', taken: 'deg/s', others: ['raw']},
          text: `The gyro is taken for deg/s; its whole numbers of ${spread.toFixed(0)} on average may be raw steps.`,
        },
      };
}

/** Numbers with decimals: deg/s or rad/s, by their range and how fine their steps are. */
function brokenGyro(values: readonly number[]): Guessed<GyroUnit> {
  const most = largest(values);
  if (most > reach.radS) return {value: 'deg/s'};
  const isFine = finestStep(values) < fineStep;
  const [taken, other] = most < slowest && isFine ? (['rad/s', 'deg/s'] as const) : (['deg/s', 'rad/s'] as const);
  return {
    value: taken,
    question: {
      ...{about: 'gyro', taken, others: [other]},
      text: `The gyro is taken for ${taken}, from its range of ±${most.toPrecision(2)}; its name gives no unit, and ${other} fits too.`,
    },
  };
}

const rms = (values: readonly number[]) =>
  Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / Math.max(1, values.length));

/** The smallest difference of two values that are not the same. */
function finestStep(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted.reduce((least, v, i) => {
    const step = i ? v - sorted[i - 1]! : Infinity;
    return step > 1e-9 && step < least ? step : least;
  }, Infinity);
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
  return {
    value: 'µs',
    question: {
      ...{about: 'throttle', taken: 'µs', others: ['%', '0–1']},
      text: `Throttle ${quoted(head, column)} is taken for µs; its range fits no unit well.`,
    },
  };
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
      ...(hundreds && !is('100')
        ? {question: speedQuestion('eRPM/100', ['eRPM'], 'Speeds are taken for hundreds of eRPM, from their range.')}
        : {}),
    };
  }
  if (is('rpm')) {
    if (most <= fastest.rpm) return plain('rpm');
    return {
      value: {unit: 'eRPM', scale: 1},
      question: speedQuestion('eRPM', [], 'Speeds are named rpm, but no motor turns that fast: taken for eRPM.'),
    };
  }
  if (is('hz', 'rps', 'freq', 'frequency', 'rev', 'revs') || most <= fastest.hz) return plain('Hz');
  const unit = most <= fastest.rpm ? 'rpm' : 'eRPM';
  const text = `Speeds ${quoted(head, columns[0]!)} are taken for ${unit}, from their range.`;
  return {...plain(unit), question: speedQuestion(unit, unit === 'rpm' ? ['eRPM'] : [], text)};
}

const speedQuestion = (taken: string, others: readonly string[], text: string): UnitQuestion => ({
  about: 'speed',
  ...{taken, others, text},
});

/**
 * The clock of a flight log: its rate from the usual step between rows; where it pauses, drops or repeats rows, begins
 * another flight or drifts. A short gap is filled along a straight line, a long one parts the log into stretches, a row
 * that repeats a time is left out, and of several flights in one file the longest is read.
 */
import {failure, success, type Result} from '../problem';
import {jitteringClock, type RowClock} from './row-clock';

export interface Gap {
  /** Since the first row of the flight, s. */
  readonly atS: number;
  /** Rows that are missing, by the usual step. */
  readonly missing: number;
  /** Whether they were filled along a straight line; else the log is parted here. */
  readonly filled: boolean;
}

/** Rows without a break, as samples of the evenly sampled log; `end` exclusive. */
export interface Stretch {
  readonly start: number;
  readonly end: number;
  /** Since the first row of the flight, s. */
  readonly atS: number;
}

export interface TimeBase {
  readonly sampleRateHz: number;
  /** Row of the table that each sample is made of; where it is negative, a filled one follows row −1 − value. */
  readonly rowOf: Int32Array;
  readonly stretches: readonly Stretch[];
  readonly gaps: readonly Gap[];
  readonly repeatedTimes: number;
  /** Rows of other flights in the same file. */
  readonly otherFlights: readonly {readonly fromRow: number; readonly rows: number}[];
  /** Largest deviation of the step from its mean over the flight, as a share: the drift of the clock. */
  readonly drift: number;
  /** Root mean square of the time stamps about an even clock, as a share of the step; 0 where they lie on it. */
  readonly jitter: number;
}

/** Missing rows that are filled along a straight line, and for at most so long, s. */
const maxFilled = 8;
const maxFilledS = 0.01;
/** Steps beyond this many usual ones are a gap. */
const gapSteps = 1.5;
/** Rows a log must have: one segment of a spectrum. */
const minRows = 1024;
/** Rows within which a clock that jumped back must be ahead again, or another flight has begun. */
const maxOutOfOrder = 64;

/**
 * @param timeS time of each row, s; @param lineOf line of the file a row stands on, for places.
 * @param unitS what one unit of the column is, s: whole units are the finest that such a log rounds to.
 */
export function readTimeBase(timeS: Float64Array, lineOf: (row: number) => number, unitS: number): Result<TimeBase> {
  const {step, tick} = usualStep(timeS, unitS);
  if (!(step > 0))
    return wrong(
      `line ${timeS.length ? lineOf(0) : 1}`,
      'The time does not advance.',
      'Check which column holds the time.',
    );
  const flights = flightsOf(timeS);
  const flight = flights.reduce((best, f) => (f.end - f.start > best.end - best.start ? f : best));
  if (flight.end - flight.start < minRows)
    return wrong(
      'whole log',
      flights.length > 1
        ? `The longest of ${flights.length} flights in this file has ${flight.end - flight.start} rows; a spectrum needs at least ${minRows}.`
        : `Only ${timeS.length} rows; a spectrum needs at least ${minRows}.`,
      'Record a longer flight.',
    );
  const clock = tick ? undefined : jitteringClock(timeS, flight, step);
  const even = sampleEvenly(timeS, flight, clock ? {...clock, tick: 0} : {step, tick, jitter: 0});
  const longest = even.stretches.reduce((most, s) => Math.max(most, s.end - s.start), 0);
  if (longest < minRows)
    return wrong(
      `lines ${lineOf(flight.start)} to ${lineOf(flight.end - 1)}`,
      `The longest stretch without a break has ${longest} rows; a spectrum needs at least ${minRows}.`,
      'Record a longer flight without a pause.',
    );
  return success({
    ...even,
    jitter: clock?.jitter ?? 0,
    sampleRateHz: Math.round(1e3 / even.meanStep) / 1000,
    otherFlights: flights.filter((f) => f !== flight).map((f) => ({fromRow: f.start, rows: f.end - f.start})),
  });
}

interface Rows {
  readonly start: number;
  readonly end: number;
}

/** Another flight begins where the clock jumps back and does not catch up within a few rows. */
function flightsOf(timeS: Float64Array): Rows[] {
  const flights: Rows[] = [];
  let start = 0;
  let latest = timeS[0]!;
  for (let i = 1; i < timeS.length; i++) {
    if (timeS[i]! >= latest) {
      latest = timeS[i]!;
      continue;
    }
    const ahead = Math.min(timeS.length - 1, i + maxOutOfOrder);
    if (timeS[ahead]! > latest) continue;
    // Rows behind the end of the file cannot catch up: a few of them are out of order, not a flight.
    if (ahead === timeS.length - 1 && ahead - i < maxOutOfOrder) continue;
    flights.push({start, end: i});
    start = i;
    latest = timeS[i]!;
  }
  flights.push({start, end: timeS.length});
  return flights;
}

/**
 * Median of the steps that go forward, and the tick that times are rounded to. Where the tick is coarse (1 ms at 2 kHz),
 * the mean over unbroken rows says the step, and a step of no time is no repeated row.
 */
function usualStep(timeS: Float64Array, unitS: number): {step: number; tick: number} {
  const stride = Math.max(1, Math.floor(timeS.length / 200_000));
  const steps: number[] = [];
  let still = 0;
  for (let i = stride; i < timeS.length; i += stride) {
    const d = timeS[i]! - timeS[i - 1]!;
    if (d > 0) steps.push(d);
    else if (d === 0) still++;
  }
  steps.sort((a, b) => a - b);
  const median = steps[steps.length >> 1] ?? 0;
  const unbroken = steps.filter((d) => d < 3.5 * median);
  const mean = unbroken.reduce((sum, d) => sum + d, 0) / (unbroken.length + still);
  const tick = tickOf(timeS, unitS);
  const isCoarse = tick > mean / 4 && Math.abs(mean / median - 1) > 0.001 && isRounded(timeS, mean, tick);
  return isCoarse ? {step: mean, tick} : {step: median, tick: 0};
}

/** The power of ten that all times are multiples of, at most the unit of the column where that is finer than a second. */
function tickOf(timeS: Float64Array, unitS: number): number {
  const some = Array.from({length: 200}, (_, i) => timeS[Math.floor((i * (timeS.length - 1)) / 199)]!);
  for (let tick = Math.min(unitS, 0.1); tick > 1e-6; tick /= 10)
    if (some.every((t) => Math.abs(t / tick - Math.round(t / tick)) < 1e-4)) return tick;
  return 0;
}

/** Whether nine in ten windows of rows lie on an even grid within a tick: dropped rows do not. */
function isRounded(timeS: Float64Array, step: number, tick: number): boolean {
  const width = 64;
  const windows = Math.min(200, Math.floor(timeS.length / width));
  let even = 0;
  for (let w = 0; w < windows; w++) {
    const at = Math.floor((w * (timeS.length - width)) / Math.max(1, windows - 1));
    const off = Array.from({length: width}, (_, i) => timeS[at + i]! - timeS[at]! - i * step);
    if (Math.max(...off) - Math.min(...off) <= 1.2 * tick) even++;
  }
  return even >= 0.9 * windows;
}

interface Clock extends RowClock {
  /** What times are rounded to, s; 0 where that is finer than the step. */
  readonly tick: number;
}

/** Of how far the stamps lie beside the clock, each moves it by this share: it follows a drift, and not the jitter. */
const follow = 0.02;

function sampleEvenly(timeS: Float64Array, {start, end}: Rows, {step, tick, jitter}: Clock) {
  const rows = new RowList(end - start);
  const stretches: Stretch[] = [];
  const gaps: Gap[] = [];
  const zero = timeS[start]!;
  let part = {from: 0, atS: 0};
  let repeatedTimes = 0;
  let lastRow = start;
  const steps = {sum: 0, count: 0};
  // Where stamps jitter, the row before stands at the clock's time, not at its own.
  const firstRows = timeS.subarray(start, Math.min(end, start + settling));
  let clockS = jitter ? phaseOf(firstRows, step) : zero;
  rows.push(start);
  for (let i = start + 1; i < end; i++) {
    const d = timeS[i]! - (jitter ? clockS : timeS[lastRow]!);
    if (jitter ? timeS[i] === timeS[lastRow] : d < 0 || (d === 0 && !tick)) {
      repeatedTimes++;
      continue;
    }
    const missing = d > gapSteps * step + tick ? Math.max(1, Math.round(d / step) - 1) : 0;
    clockS += (missing + 1) * step;
    clockS += follow * (timeS[i]! - clockS);
    const filled = missing <= maxFilled && d <= Math.max(maxFilledS, 3 * step);
    if (missing) gaps.push({atS: timeS[lastRow]! - zero, missing, filled});
    else [steps.sum, steps.count] = [steps.sum + (jitter ? step : d), steps.count + 1];
    if (missing && !filled) {
      stretches.push({start: part.from, end: rows.length, atS: part.atS});
      part = {from: rows.length, atS: timeS[i]! - zero};
    } else for (let k = 0; k < missing; k++) rows.push(-1 - lastRow);
    rows.push(i);
    lastRow = i;
  }
  stretches.push({start: part.from, end: rows.length, atS: part.atS});
  const meanStep = steps.count ? steps.sum / steps.count : step;
  return {rowOf: rows.all, stretches, gaps, repeatedTimes, meanStep, drift: driftOf(timeS, rows.all, stretches)};
}

/** Rows that say on which phase of the clock a flight begins. */
const settling = 200;

/** The time next to the first stamp at which the clock of these rows strikes, s. */
function phaseOf(timeS: Float64Array, step: number): number {
  let [re, im] = [0, 0];
  for (const t of timeS) {
    const turn = (2 * Math.PI * (t - timeS[0]!)) / step;
    [re, im] = [re + Math.cos(turn), im + Math.sin(turn)];
  }
  return timeS[0]! + (Math.atan2(im, re) / (2 * Math.PI)) * step;
}

/** A growing list of rows. */
class RowList {
  length = 0;
  private values: Int32Array;

  constructor(expected: number) {
    this.values = new Int32Array(Math.ceil(expected * 1.05) + 64);
  }

  push(row: number): void {
    if (this.length === this.values.length) {
      const larger = new Int32Array(2 * this.length);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = row;
  }

  get all(): Int32Array {
    return this.values.subarray(0, this.length);
  }
}

/** Mean step of each tenth of the longest stretch against the mean of all: the largest deviation. */
function driftOf(timeS: Float64Array, rowOf: Int32Array, stretches: readonly Stretch[]): number {
  const longest = stretches.reduce((best, s) => (s.end - s.start > best.end - best.start ? s : best));
  const parts = 10;
  const width = Math.floor((longest.end - longest.start) / parts);
  if (width < 100) return 0;
  const rowAt = (sample: number) => {
    const row = rowOf[sample]!;
    return row < 0 ? -1 - row : row;
  };
  const means = Array.from({length: parts}, (_, p) => {
    const [a, b] = [longest.start + p * width, longest.start + (p + 1) * width - 1];
    return (timeS[rowAt(b)]! - timeS[rowAt(a)]!) / (b - a);
  });
  const mean = means.reduce((sum, m) => sum + m, 0) / parts;
  return Math.max(...means.map((m) => Math.abs(m / mean - 1)));
}

const wrong = (place: string, meaning: string, remedy: string) => failure({code: 'flight-log', place, meaning, remedy});

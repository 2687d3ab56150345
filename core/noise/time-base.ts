/**
 * The clock of a flight log: its rate from the usual step between rows, and where it pauses, jumps back or runs unevenly.
 * Spectra need one stretch without a break: the longest is used, and what was left out is told.
 */
import {failure, success, type Result} from '../problem';

export interface TimeBase {
  readonly sampleRateHz: number;
  /** Rows of the stretch that is used, `end` exclusive. */
  readonly start: number;
  readonly end: number;
  /** What was found and left out, in sentences without their full stop. */
  readonly notes: readonly string[];
}

/** A step longer than this many usual ones is a pause. */
const pauseSteps = 3;
/** Mean and usual step of a stretch may differ by this share; more, and rows are missing throughout. */
const mostDrift = 0.02;
/** Rows a stretch must have: one segment of the spectrum. */
const fewestRows = 1024;

/** @param timeUs time of each row, µs; @param lineOf line of the file a row stands on, for places. */
export function readTimeBase(timeUs: Float64Array, lineOf: (row: number) => number): Result<TimeBase> {
  const rows = timeUs.length;
  const step = usualStep(timeUs);
  if (!(step > 0)) return wrong(`line ${lineOf(0)}`, 'The time does not advance.', 'Check the time_us column.');
  const {cuts, notes} = breaksOf(timeUs, step, lineOf);
  const {start, end} = longest(cuts);
  if (end - start < fewestRows)
    return wrong(
      notes.length ? `lines ${lineOf(start)} to ${lineOf(end - 1)}` : 'whole log',
      notes.length
        ? `The longest stretch without a break has ${end - start} rows; a spectrum needs at least ${fewestRows}. ${notes.slice(0, 3).join('. ')}.`
        : `Only ${rows} rows; a spectrum needs at least ${fewestRows}.`,
      'Record a longer flight without a pause.',
    );
  const mean = (timeUs[end - 1]! - timeUs[start]!) / (end - start - 1);
  if (Math.abs(mean / step - 1) > mostDrift)
    return wrong(
      `lines ${lineOf(start)} to ${lineOf(end - 1)}`,
      `Rows are ${step.toFixed(0)} µs apart as a rule, but ${mean.toFixed(0)} µs on average: rows are missing throughout, and every frequency would be off by ${Math.abs(100 * (mean / step - 1)).toFixed(0)} %.`,
      'Export the log again with every row.',
    );
  if (end - start < rows)
    notes.push(
      `Lines ${lineOf(start)} to ${lineOf(end - 1)} are used, ${seconds((end - start) * step)}; the rest is left out`,
    );
  return success({sampleRateHz: Math.round(1e9 / mean) / 1000, start, end, notes});
}

/** First rows of the stretches without a break and the end of the last, and what breaks them, in sentences. */
function breaksOf(
  timeUs: Float64Array,
  step: number,
  lineOf: (row: number) => number,
): {cuts: number[]; notes: string[]} {
  const notes: string[] = [];
  const cuts = [0];
  let repeated = 0;
  for (let i = 1; i < timeUs.length; i++) {
    const d = timeUs[i]! - timeUs[i - 1]!;
    const at = `line ${lineOf(i)}`;
    if (d === 0) repeated++;
    if (d < 0) notes.push(`Time goes back by ${seconds(-d)} at ${at}: another flight begins there`);
    else if (d > pauseSteps * step) notes.push(`A pause of ${seconds(d)} at ${at}`);
    if (d <= 0 || d > pauseSteps * step) cuts.push(i);
  }
  cuts.push(timeUs.length);
  const most = 20;
  if (notes.length > most) notes.splice(most, Infinity, `and ${notes.length - most} more breaks`);
  if (repeated) notes.push(`${repeated} rows repeat the time of the row before`);
  return {cuts, notes};
}

/** Median of the steps that go forward: a few pauses do not move it. */
function usualStep(timeUs: Float64Array): number {
  const steps: number[] = [];
  const stride = Math.max(1, Math.floor(timeUs.length / 200_000));
  for (let i = stride; i < timeUs.length; i += stride) {
    const d = timeUs[i]! - timeUs[i - 1]!;
    if (d > 0) steps.push(d);
  }
  return steps.sort((a, b) => a - b)[steps.length >> 1] ?? 0;
}

function longest(cuts: readonly number[]): {start: number; end: number} {
  let best = {start: cuts[0]!, end: cuts[1]!};
  for (let i = 1; i + 1 < cuts.length; i++)
    if (cuts[i + 1]! - cuts[i]! > best.end - best.start) best = {start: cuts[i]!, end: cuts[i + 1]!};
  return best;
}

const seconds = (us: number) => `${(us / 1e6).toFixed(us < 1e6 ? 3 : 1)} s`;
const wrong = (place: string, meaning: string, remedy: string) => failure({code: 'flight-log', place, meaning, remedy});

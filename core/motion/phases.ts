/** What the throttle of a trace did: levels it stayed at, steps between them, cuts. Times in rows of the trace. */
import type {OwnTrace} from './trace';

/** Rows from `from` up to, not with, `to`. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

interface Level extends Span {
  /** 0…1 */
  readonly throttle: number;
}

/** From one level to the next without anything between: `at` is the first row of the new command. */
export interface Step {
  readonly at: number;
  readonly before: Level;
  readonly after: Level;
}

/** A command within this of another is the same level, 0…1. */
const sameLevel = 0.0025;
/** A level lasts at least this, s, and this many rows. */
const minLevelS = 0.02;
const minRows = 4;
/** A change that takes longer is a ramp, s, or this many rows where they are far apart. */
const longestStepS = 0.012;
const longestStepRows = 1;
/** Smallest change that says something about a motor, 0…1. */
const minStep = 0.03;

function levelsOf({throttle, timeS}: OwnTrace): Level[] {
  const levels: Level[] = [];
  let from = 0;
  for (let i = 1; i <= throttle.length; i++) {
    if (i < throttle.length && Math.abs(throttle[i]! - throttle[from]!) <= sameLevel && !isStop(throttle, i)) continue;
    const lasts = timeS[i - 1]! - timeS[from]!;
    if (i - from >= minRows && lasts >= minLevelS) levels.push({from, to: i, throttle: throttle[from]!});
    from = i;
  }
  return levels;
}

/** Whether the command goes to nothing, or comes from it, at a row. */
const isStop = (throttle: Float64Array, i: number): boolean => (throttle[i] === 0) !== (throttle[i - 1] === 0);

/** Steps up and down, zero included. */
export function stepsOf(trace: OwnTrace): Step[] {
  const levels = levelsOf(trace);
  const {timeS} = trace;
  return levels.flatMap((after, i) => {
    const before = levels[i - 1];
    if (!before || Math.abs(after.throttle - before.throttle) < minStep) return [];
    const rows = after.from - before.to;
    const lasts = timeS[after.from]! - timeS[before.to - 1]!;
    const isQuick = rows <= longestStepRows || lasts <= longestStepS;
    return isQuick ? [{at: Math.min(before.to, after.from), before, after}] : [];
  });
}

/** Cuts of a turning motor: the first row without throttle, however the throttle stood before. */
export function cutsOf({throttle, rpm}: OwnTrace, leastRpm: number): Span[] {
  const cuts: Span[] = [];
  for (let i = 1; i < throttle.length; i++) {
    if (throttle[i] !== 0 || throttle[i - 1] === 0 || rpm[i - 1]! < leastRpm) continue;
    let to = i;
    while (to < throttle.length && throttle[to] === 0) to++;
    cuts.push({from: i, to});
  }
  return cuts;
}

/** Stretches in which the motor is commanded to turn. */
export function runsOf({throttle}: Pick<OwnTrace, 'throttle'>): Span[] {
  const runs: Span[] = [];
  for (let i = 0; i < throttle.length; i++) {
    if (!(throttle[i]! > 0)) continue;
    const from = i;
    while (i < throttle.length && throttle[i]! > 0) i++;
    runs.push({from, to: i});
  }
  return runs;
}

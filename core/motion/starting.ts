/** Where a motor starts: the lowest command at which it turns steadily, and stops on the way there. */
import {estimateOf, noEstimate, type Answer} from './answer';
import {runsOf, type Span} from './phases';
import {highestOf, type OwnTrace} from './trace';
import {median} from '../numbers/median';

/** Above this a motor counts as turning, rpm. */
export const turningRpm = 100;
/** A start holds when the motor turns on for this long, s. */
const steadyS = 0.25;
/** How far the command may jump and still tell where the motor started: percent, and share of the command. */
const finestPercent = 1.05;
const finestShare = 0.35;

/** Starts above this multiple of the lowest are of another kind. */
const sameStart = 1.5;

interface Start {
  /** First row of the turning that lasted. */
  readonly at: number;
  /** Command at that row, and the highest that left it standing, percent. */
  readonly percent: number;
  readonly stoodAt: number;
}

/** A stretch of turning within a run. */
interface Turning extends Span {
  readonly holds: boolean;
}

/** Stretches of turning while the motor is commanded; the last one of a run holds when the command ended it. */
function turningsIn({rpm, timeS}: OwnTrace, run: Span): Turning[] {
  const turnings: Turning[] = [];
  for (let i = run.from; i < run.to; i++) {
    if (!(rpm[i]! > turningRpm)) continue;
    const from = i;
    while (i < run.to && rpm[i]! > turningRpm) i++;
    const lasts = timeS[Math.min(i, run.to - 1)]! - timeS[from]!;
    turnings.push({from, to: i, holds: lasts >= steadyS || (i === run.to && lasts > 0.05)});
  }
  return turnings;
}

/** Starts from rest that lasted. */
export function startsOf(trace: OwnTrace): Start[] {
  const {rpm, throttle} = trace;
  return runsOf(trace).flatMap((run) => {
    if (rpm[run.from]! > turningRpm) return [];
    const first = turningsIn(trace, run).find((t) => t.holds);
    if (!first) return [];
    let at = first.from;
    while (at > run.from && rpm[at - 1]! > 0) at--;
    const stoodAt = throttle.subarray(run.from, at).reduce((most, t, i) => {
      // What was commanded in the very last moment had no time to turn it.
      return trace.timeS[at]! - trace.timeS[run.from + i]! > startingS(trace) ? Math.max(most, t) : most;
    }, 0);
    return [{at, percent: 100 * throttle[at]!, stoodAt: 100 * stoodAt}];
  });
}

/** A motor that can start does so within this, s. */
const startingS = ({stepS}: OwnTrace): number => Math.max(0.02, 2 * stepS);

/** Rows at which the motor came to rest again while starting. */
export function stuttersOf(trace: OwnTrace): number[] {
  return runsOf(trace).flatMap((run) => {
    const turnings = turningsIn(trace, run);
    return turnings.filter((turning) => isStutter(trace, {turning, all: turnings, run})).map((t) => t.to);
  });
}

interface InRun {
  readonly turning: Turning;
  readonly all: readonly Turning[];
  readonly run: Span;
}

/** It stopped although commanded, after a moment, or without having come near the speed that its command gives. */
function isStutter(trace: OwnTrace, {turning, all, run}: InRun): boolean {
  if (turning.to === run.to) return false;
  if (!turning.holds) return true;
  const {rpm, throttle} = trace;
  const fastest = highestOf(rpm.subarray(turning.from, turning.to));
  const later = all.find((t) => t.holds && t.from > turning.from);
  return later !== undefined && fastest < 0.6 * steadyRpm(trace, later, throttle[turning.to]!);
}

/** Speed that a command gave where it was held, rpm, in proportion where another one was. */
function steadyRpm({rpm, throttle}: OwnTrace, {from, to}: Span, command: number): number {
  const half = from + ((to - from) >> 1);
  const speed = median(rpm.subarray(half, to));
  const commanded = median(throttle.subarray(half, to));
  return (speed * command) / commanded;
}

/** Command in percent at which the motor starts; the middle of several starts. */
export function startsAtPercent(trace: OwnTrace): Answer {
  const starts = startsOf(trace);
  if (!starts.length) return noEstimate(noStart(trace));
  const fine = starts.filter((s) => s.percent - s.stoodAt <= Math.max(finestPercent, finestShare * s.percent));
  const [first] = starts;
  if (!fine.length)
    return noEstimate(
      `The command jumped from ${first!.stoodAt.toFixed(1)} to ${first!.percent.toFixed(1)} %; it starts somewhere between.`,
    );
  // A command that was simply given, and stuttered first, tells less than a slow climb.
  const lowest = Math.min(...fine.map((s) => s.percent));
  const percents = fine.map((s) => s.percent).filter((p) => p < lowest * sameStart);
  const value = median(percents);
  const spread = Math.max(...percents) - Math.min(...percents);
  const finest = median(fine.map((s) => s.percent - s.stoodAt));
  return estimateOf(value, Math.max(finest, spread, 0.02));
}

function noStart({rpm, throttle}: OwnTrace): string {
  if (!throttle.some((t) => t > 0)) return 'It was never commanded to turn.';
  if (!rpm.some((r) => r > turningRpm)) return 'It never turned.';
  return 'The trace has no start from rest that lasted.';
}

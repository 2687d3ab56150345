/** Which rows of a trace the equations of a motor hold for, as its ESC drives it. */
import type {Span} from './phases';
import {startsOf, turningRpm} from './starting';
import type {OwnTrace} from './trace';

export interface UsableRows {
  /** The bridge drives the winding with its whole duty: no limit, no braking, no start. */
  readonly driven: readonly number[];
  /** Driven, and the speed hardly changes. */
  readonly steady: readonly number[];
  /** Driven, and the speed changes as slowly as in a sweep: it lags a little. */
  readonly swept: readonly number[];
  /** Spans in which only current, friction and drag act on the rotor. */
  readonly spans: readonly Span[];
}

/** A start takes this long, s; where nothing else moved, only its first moment is left out. */
const usualStartS = 0.08;
export const briefStartS = 0.006;
/** What follows a lost step and a lower command is left out for so long, s. */
const slipS = 0.4;
const brakingS = 0.3;
/** A command that falls by more than this within a row is a lower command, 0…1. */
const lower = 5e-4;
/** Speed over duty that is this much above the usual is not driven any more. */
const overrun = 1.02;
/** Time after a step until a motor without load has settled, s. */
const settlingS = 0.3;
/** Steady: the whole speed range would take longer than this, s; swept: longer than that. */
const steadyS = 1.5;
const sweepS = 0.55;
/** Length of a span, s; it holds at least so many rows. */
const spanS = 0.008;
const spanRows = 4;
/** Currents this near the highest, in this many rows in a row, are limited. */
const limitShare = 0.96;
const limitRows = 6;

/** @param startS what of a start is left out, s. */
export function rowsToUse(trace: OwnTrace, except: readonly number[], startS = usualStartS): UsableRows {
  const {rpm, throttle, timeS} = trace;
  const fastest = rpm.reduce((most, r) => Math.max(most, r), 0);
  const least = Math.max(3 * turningRpm, 0.04 * fastest);
  const bad = new Uint8Array(rpm.length);
  const leaveOut = (mask: Uint8Array, from: number, s: number) => {
    for (let i = Math.max(0, from); i < mask.length && timeS[i]! - timeS[from]! <= s; i++) mask[i] = 1;
  };
  for (const {at} of startsOf(trace)) leaveOut(bad, at, startS);
  for (const row of except) leaveOut(bad, Math.max(0, row - 3), slipS);
  rpm.forEach((r, i) => r < least && (bad[i] = 1));
  const undriven = bad.slice();
  const unsteady = new Uint8Array(rpm.length);
  for (let i = 1; i < rpm.length; i++) {
    if (throttle[i]! < throttle[i - 1]! - lower) leaveOut(undriven, i, brakingS);
    if (Math.abs(throttle[i]! - throttle[i - 1]!) > 0.02) leaveOut(unsteady, i, settlingS);
    if (throttle[i] === 0) undriven[i] = 1;
  }
  limitedRows(trace.amps).forEach((i) => (undriven[i] = 1));
  overrunning(trace, undriven).forEach((i) => (undriven[i] = 1));
  const driven = [...rpm.keys()].filter((i) => !undriven[i]);
  const slowerThan = (s: number) => driven.filter((i) => !unsteady[i] && isSlow(trace, i, fastest / s));
  return {driven, steady: slowerThan(steadyS), swept: slowerThan(sweepS), spans: spansOf(trace, bad)};
}

/**
 * Rows after a lower command in which the motor still turns faster than its command would: compared by speed over duty with
 * what it does where no command was lowered since it stood. `undriven` is left as it is.
 */
function overrunning({throttle, rpm, volts}: OwnTrace, undriven: Uint8Array): number[] {
  const lowered: number[] = [];
  const clean: number[] = [];
  const ratio = (i: number) => rpm[i]! / (throttle[i]! * (volts?.[i] ?? 1));
  let isLowered = false;
  for (let i = 1; i < rpm.length; i++) {
    if (throttle[i]! < throttle[i - 1]! - lower) isLowered = true;
    if (rpm[i]! < turningRpm) isLowered = false;
    if (!undriven[i]) (isLowered ? lowered : clean).push(i);
  }
  const usual = (clean.length ? clean : lowered).map(ratio).sort((a, b) => a - b);
  const most = overrun * (usual[Math.floor(0.9 * (usual.length - 1))] ?? Infinity);
  return lowered.filter((i) => ratio(i) > most);
}

/** Whether the speed around a row changes by less than `most` rpm a second. */
function isSlow({rpm, timeS}: OwnTrace, row: number, most: number): boolean {
  let [from, to] = [row, row];
  while (from > 0 && timeS[row]! - timeS[from]! < 0.03) from--;
  while (to + 1 < rpm.length && timeS[to]! - timeS[row]! < 0.03) to++;
  return Math.abs(rpm[to]! - rpm[from]!) <= most * (timeS[to]! - timeS[from]!);
}

/** Rows in which the ESC holds the current at its limit: highest values that last. */
function limitedRows(amps: Float64Array | undefined): number[] {
  if (!amps) return [];
  const most = amps.reduce((high, a) => (a > high ? a : high), 0);
  const limited: number[] = [];
  for (let i = 0; i < amps.length; i++) {
    const from = i;
    while (i < amps.length && amps[i]! > limitShare * most) i++;
    if (i - from >= limitRows) for (let row = from; row < i; row++) limited.push(row);
  }
  return limited;
}

/** Spans one after the other through everything that is not left out. */
function spansOf({timeS, stepS}: OwnTrace, bad: Uint8Array): Span[] {
  const rows = Math.max(spanRows, Math.round(spanS / Math.max(stepS, 1e-5)));
  const spans: Span[] = [];
  for (let from = 0; from + rows < bad.length;) {
    const to = from + rows;
    const broken = bad.subarray(from, to + 1).lastIndexOf(1);
    if (broken >= 0) from += broken + 1;
    else {
      if (timeS[to]! - timeS[from]! < 3 * rows * stepS) spans.push({from, to});
      from = to;
    }
  }
  return spans;
}

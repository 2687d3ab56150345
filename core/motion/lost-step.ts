/** Where a motor lost step: its speed collapses although its command stays or rises. */
import {turningRpm} from './starting';
import type {OwnTrace} from './trace';

/** A collapse takes at most this, s, or two rows where they are far apart. */
const collapseS = 0.08;
/** Share of the speed that is lost in it. */
const lostShare = 0.3;
/** Time without a lower command before it, s: a motor that was slowed falls by itself. */
const steadyS = 0.35;
/** A command may fall by so much, 0…1 and as a share, and still counts as steady. */
const steadyAbsolute = 0.01;
const steadyRelative = 0.05;
/** Up to this command an ESC does not drive, 0…1: zero as a column tells it. */
const minDriven = 2e-3;
/** A fall that is over again within this, s, and comes back in one row, is a run of spoilt replies. */
const spoiltS = 0.01;

/** Rows at which the speed began to collapse; stops while starting, at the rows `stutters`, are none. */
export function desyncsOf(trace: OwnTrace, stutters: readonly number[]): number[] {
  const {rpm, timeS, stepS} = trace;
  const windowS = Math.max(collapseS, 2.5 * stepS);
  const events: number[] = [];
  let high = 0;
  let minSince = -Infinity;
  for (let i = 1; i < rpm.length; i++) {
    while (timeS[i]! - timeS[high]! > windowS) high++;
    const peak = fastestIn(rpm, Math.max(high, minSince), i);
    if (peak.rpm < 3 * turningRpm || rpm[i]! > (1 - lostShare) * peak.rpm) continue;
    if (!isSteady(trace, i) || isSpoilt(trace, peak.row, i)) continue;
    if (stutters.some((row) => row >= peak.row && timeS[row]! - timeS[i]! < windowS)) continue;
    events.push(onsetOf(rpm, peak.row, i));
    minSince = i = recovered(trace, i, peak.rpm);
  }
  return events;
}

function fastestIn(rpm: Float64Array, from: number, to: number): {row: number; rpm: number} {
  let row = Math.min(from, to);
  for (let i = row; i < to; i++) if (rpm[i]! >= rpm[row]!) row = i;
  return {row, rpm: rpm[row]!};
}

/**
 * Whether the motor was driven for a while before a row, and its command did not fall. One that coasts falls by itself, also
 * for a moment after it is driven again.
 */
function isSteady({throttle, timeS}: OwnTrace, row: number): boolean {
  const now = throttle[row]!;
  for (let i = row; i >= 0 && timeS[row]! - timeS[i]! <= steadyS; i--) {
    const isDriven = throttle[i]! > minDriven;
    if (!isDriven || throttle[i]! - now > Math.max(steadyAbsolute, steadyRelative * throttle[i]!)) return false;
  }
  return true;
}

/** Replies that are wrong for a moment: no motor comes back in one row. */
function isSpoilt({rpm, timeS}: OwnTrace, peak: number, row: number): boolean {
  for (let i = row + 1; i < rpm.length && timeS[i]! - timeS[peak]! <= spoiltS; i++)
    if (rpm[i]! > 0.9 * rpm[peak]! && rpm[i - 1]! < (1 - lostShare) * rpm[peak]!) return true;
  return false;
}

/** The last row near the full speed before the fall. */
function onsetOf(rpm: Float64Array, peak: number, row: number): number {
  let onset = row;
  while (onset > peak && rpm[onset]! < 0.95 * rpm[peak]!) onset--;
  return onset;
}

/** The row at which the speed is back, or the command changes to less: the collapse is over. */
function recovered({rpm, throttle, timeS}: OwnTrace, row: number, peak: number): number {
  let lowest = rpm[row]!;
  for (let i = row; i < rpm.length; i++) {
    lowest = Math.min(lowest, rpm[i]!);
    const isBack = rpm[i]! > 0.85 * peak || (timeS[i]! - timeS[row]! > 0.3 && rpm[i]! > 2 * lowest + turningRpm);
    if (isBack || throttle[i] === 0) return i;
  }
  return rpm.length;
}

/**
 * How badly speeds that come late by so much go with the current that pushed. The speeds stay as they were told, so that
 * their noise is the same for every delay that is tried; the charge that flowed is taken from so much earlier:
 * ω(t) = ω₀ + (K_T·∫i dt − friction·t − drag·∫ω² dt)/J, the integral of i ending at t − delay, in windows with an ω₀ each.
 */
import {omegaOf} from '../motor/motor';
import {leastSquares} from './least-squares';
import {highestOf, type OwnTrace} from './trace';
import type {UsableRows} from './usable-rows';

/** A trace with the cosine between current and back-EMF in each row; 1 where nothing is known of it. */
export interface AlignedTrace extends OwnTrace {
  readonly alignment?: Float64Array;
}
export const alignmentAt = ({alignment}: AlignedTrace, row: number): number => alignment?.[row] ?? 1;

/** A command that changes by more within a row makes the current jump, 0…1. */
export const jump = 0.01;
/** Length of a window, s, and into how many parts it is averaged at most. */
const windowS = 0.1;
const parts = 25;
/** No speed is told to more than this share of the highest: what is left over below it tells nothing. */
const scatter = 2e-4;
/** Rows that a window needs. */
const fewest = 6;

/** Minus twice the logarithm of the likelihood for each delay, up to a constant; infinite where nothing is to be told. */
export function misfitsOf(trace: AlignedTrace, {spans}: UsableRows, delaysS: readonly number[]): number[] {
  const windows = windowsOf(trace, spans);
  const charge = chargeOf(trace);
  const floor = scatter * omegaOf(highestOf(trace.rpm));
  return delaysS.map((delayS) => {
    const rows: number[][] = [];
    const speeds: number[] = [];
    for (const window of windows) {
      const charges = window.rows.map((row) => meanOf(row, (i) => chargeAt(trace, charge, trace.timeS[i]! - delayS)));
      const middle = meanIn(charges);
      window.rows.forEach((_, k) => {
        rows.push([charges[k]! - middle, -window.times[k]!, -window.squares[k]!]);
        speeds.push(window.speeds[k]!);
      });
    }
    const fit = leastSquares(rows, speeds);
    return fit ? rows.length * Math.log(fit.left ** 2 + floor ** 2) : Infinity;
  });
}

interface Part {
  readonly from: number;
  /** Exclusive. */
  readonly to: number;
}
/** A stretch of a trace in parts; times, squares and speeds around their means over it. */
interface Window {
  readonly rows: readonly Part[];
  readonly times: readonly number[];
  readonly squares: readonly number[];
  readonly speeds: readonly number[];
}

/** Spans that follow each other, cut to windows. */
function windowsOf(trace: AlignedTrace, spans: UsableRows['spans']): Window[] {
  const {timeS, rpm} = trace;
  const square = new Float64Array(rpm.length);
  for (let i = 1; i < rpm.length; i++) {
    const [a, b] = [omegaOf(rpm[i - 1]!) ** 2, omegaOf(rpm[i]!) ** 2];
    square[i] = square[i - 1]! + ((timeS[i]! - timeS[i - 1]!) / 2) * (a + b);
  }
  return stretchesOf(timeS, spans).map(({from, to}) => {
    const step = Math.max(1, Math.ceil((to - from) / parts));
    const rows: Part[] = [];
    for (let i = from; i < to; i += step) rows.push({from: i, to: Math.min(to, i + step)});
    const around = (value: (i: number) => number) => {
      const values = rows.map((row) => meanOf(row, value));
      const middle = meanIn(values);
      return values.map((v) => v - middle);
    };
    return {
      rows,
      times: around((i) => timeS[i]!),
      squares: around((i) => square[i]!),
      speeds: around((i) => omegaOf(rpm[i]!)),
    };
  });
}

function stretchesOf(timeS: Float64Array, spans: UsableRows['spans']): Part[] {
  const stretches: Part[] = [];
  let open: Part | undefined;
  const close = () => {
    if (open && open.to - open.from >= fewest) stretches.push(open);
    open = undefined;
  };
  for (const {from, to} of spans) {
    if (open && (open.to !== from + 1 || timeS[to]! - timeS[open.from]! > windowS)) close();
    open = {from: open?.from ?? from, to: to + 1};
  }
  close();
  return stretches;
}

/** ∫i dt from the first row on; up to a row with another command the current was what it had been. */
function chargeOf(trace: AlignedTrace): Float64Array {
  const {timeS, amps, throttle} = trace;
  const push = (row: number) => amps![row]! * alignmentAt(trace, row);
  const charge = new Float64Array(timeS.length);
  for (let i = 1; i < charge.length; i++) {
    const jumps = Math.abs(throttle[i]! - throttle[i - 1]!) > jump;
    const gain = ((timeS[i]! - timeS[i - 1]!) / 2) * (push(i - 1) + push(jumps ? i - 1 : i));
    charge[i] = charge[i - 1]! + (Number.isFinite(gain) ? gain : 0);
  }
  return charge;
}

/** The charge by a moment, on straight lines between rows. */
function chargeAt({timeS, stepS}: AlignedTrace, charge: Float64Array, atS: number): number {
  const last = timeS.length - 1;
  let row = Math.max(0, Math.min(last - 1, Math.floor((atS - timeS[0]!) / stepS)));
  while (row > 0 && timeS[row]! > atS) row--;
  while (row < last - 1 && timeS[row + 1]! < atS) row++;
  const share = Math.max(0, Math.min(1, (atS - timeS[row]!) / (timeS[row + 1]! - timeS[row]!)));
  return charge[row]! + (charge[row + 1]! - charge[row]!) * share;
}

function meanOf({from, to}: Part, value: (i: number) => number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += value(i);
  return sum / (to - from);
}
const meanIn = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

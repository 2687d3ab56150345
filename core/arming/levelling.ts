/**
 * Levelling of the accelerometer: what it measures while the craft stands still on a level bench, against what it should there.
 * What is left over on each axis is what self-level would take for a tilt; a flight controller takes it off again by its own
 * offsets. The bench is taken for level: that is a person's to see to.
 */
import type {Mounting} from '../controller/arming-fields';
import type {Verdict} from './arming-proofs';
import {distance, length, matrixOf, meanOf, scaled, sum, transposed, turned, type Vector} from './rotation';

/** Rests for so long, ms, with so many readings, each this near to their mean, g: a bench is stiller than a hand. */
const [restMs, minReadings, restG] = [2000, 20, 0.04];

interface Sample {
  readonly atMs: number;
  readonly g: Vector;
}

export interface LevelMeasure {
  /** In the board's axes forward, right, down, g. */
  readonly mean: Vector;
  readonly readings: number;
  /** Standard error of the mean, of the noisiest axis, g. */
  readonly errorG: number;
}

/** Waits until the craft has rested, and takes its mean. */
export class RestWatch {
  private recent: readonly Sample[] = [];
  result: LevelMeasure | undefined;

  /** How much of the rest is over, 0…1. */
  get share(): number {
    const [first, last] = [this.recent[0], this.recent.at(-1)];
    return first && last ? Math.min(1, (last.atMs - first.atMs) / restMs) : 0;
  }

  /** A reading of the accelerometer, g, in the board's axes. Times ascend, ms. */
  feed(atMs: number, g: Vector): void {
    if (this.result) return;
    this.recent = [...this.recent, {atMs, g}];
    const mean = meanOf(this.recent.map((s) => s.g));
    if (this.recent.some((s) => distance(s.g, mean) > restG)) this.recent = [{atMs, g}];
    else if (this.share === 1 && this.recent.length >= minReadings) this.result = measureOf(this.recent, mean);
  }
}

function measureOf(samples: readonly Sample[], mean: Vector): LevelMeasure {
  const variance = ([0, 1, 2] as const).map(
    (axis) => samples.reduce((total, {g}) => total + (g[axis] - mean[axis]) ** 2, 0) / (samples.length - 1),
  );
  return {mean, readings: samples.length, errorG: Math.sqrt(Math.max(...variance) / samples.length)};
}

/** What a board so mounted measures at rest in a level craft, g: what holds it up. */
const atRest = (mounting: Mounting): Vector => turned(transposed(matrixOf(mounting)), [0, 0, -1]);

/** What is measured beyond what should be, g, in the board's axes. */
export const leftOver = ({mean}: LevelMeasure, mounting: Mounting): Vector => sum(mean, scaled(atRest(mounting), -1));

/** Tilt that self-level may be off by, degrees; length of gravity that a sound accelerometer measures, within, g. */
const [levelDeg, gravityG] = [1, 0.03];
/** Nobody's accelerometer is off by so much, g: then the craft does not stand level, or the board is mounted otherwise. */
const mostG = 0.15;

const degrees = 180 / Math.PI;

/** Whether what self-level takes for level is level, with the offsets and the mounting that are set. */
export function judgeLevel(measure: LevelMeasure, mounting: Mounting): Verdict {
  const {readings, errorG, mean} = measure;
  if (!canBeTakenOff(measure, mounting))
    return {
      holds: false,
      text: `At rest it measures ${mg(length(leftOver(measure, mounting)))} beyond what a level craft does: the bench is not level, or the board is mounted otherwise than it is set.`,
    };
  const [forward, right, down] = turned(matrixOf(mounting), mean);
  const tiltDeg = Math.atan2(Math.hypot(forward, right), -down) * degrees;
  const boundDeg = Math.max(0.05, 2 * errorG * Math.SQRT2 * degrees);
  const gravity = length(mean);
  const isLevel = tiltDeg + boundDeg <= levelDeg;
  const isGravity = Math.abs(gravity - 1) + 2 * errorG <= gravityG;
  return {
    holds: isLevel && isGravity,
    text: `Self-level is ${tiltDeg.toFixed(2)}° ± ${boundDeg.toFixed(2)}° off the bench under the craft; at most ${levelDeg}° is allowed. Gravity reads ${gravity.toFixed(3)} g, over ${readings} readings.${isGravity ? '' : ` That is not 1 g within ${gravityG} g.`}`,
  };
}

const mg = (g: number): string => `${(g * 1000).toFixed(0)} mg`;

/** Whether the difference is one that offsets can take off. */
export const canBeTakenOff = (measure: LevelMeasure, mounting: Mounting): boolean =>
  length(leftOver(measure, mounting)) <= mostG;

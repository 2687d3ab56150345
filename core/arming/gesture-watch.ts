/** Takes the three gestures of a mounting by itself, as a hand holds the craft still in each: both hands are on the craft. */
import type {Gestures} from './mounting';
import {distance, dot, meanOf, scaled, sum, unit, type Vector} from './rotation';

export const gestures = ['level', 'noseDown', 'rightDown'] as const;
export type Gesture = (typeof gestures)[number];
export const gestureWords: Readonly<Record<Gesture, string>> = {
  level: 'Hold the craft level',
  noseDown: 'Tilt its nose down by 45° or so',
  rightDown: 'Tilt its right side down by 45° or so',
};

interface Sample {
  readonly atMs: number;
  readonly g: Vector;
}

/** Held still for so long, ms, with so many readings, each this near to their mean, g. */
const [stillMs, minReadings, stillG] = [700, 7, 0.06];
/** From the level and between both tilts, degrees: less is the same gesture still. */
const [minTiltDeg, apartDeg] = [22, 40];

export class GestureWatch {
  private readonly taken: Partial<Record<Gesture, Vector>> = {};
  private recent: Sample[] = [];
  /** Readings that gestures were taken from. */
  readings = 0;

  /** The gesture that is waited for; undefined when all are there. */
  get wanted(): Gesture | undefined {
    return gestures.find((gesture) => !this.taken[gesture]);
  }

  get result(): Gestures | undefined {
    const {level, noseDown, rightDown} = this.taken;
    return level && noseDown && rightDown && {level, noseDown, rightDown};
  }

  /** A reading of the accelerometer, g, in the board's axes. Times ascend, ms. */
  feed(atMs: number, g: Vector): void {
    const {wanted} = this;
    if (!wanted) return;
    this.recent = [...this.recent.filter((s) => atMs - s.atMs <= stillMs), {atMs, g}];
    const mean = this.stillMean(atMs);
    if (!mean || !this.isOther(wanted, mean)) return;
    this.taken[wanted] = mean;
    this.readings += this.recent.length;
    this.recent = [];
  }

  /** Mean of what was read while held still; undefined while it moves, or for too short. */
  private stillMean(nowMs: number): Vector | undefined {
    const {recent} = this;
    if (recent.length < minReadings || nowMs - recent[0]!.atMs < stillMs * 0.8) return undefined;
    const mean = meanOf(recent.map((s) => s.g));
    return recent.every((s) => distance(s.g, mean) < stillG) ? mean : undefined;
  }

  /** Whether a pose is another than those taken before. */
  private isOther(wanted: Gesture, mean: Vector): boolean {
    const {level, noseDown} = this.taken;
    if (wanted === 'level' || !level) return true;
    if (angleOf(mean, level) < minTiltDeg) return false;
    return wanted === 'noseDown' || !noseDown || angleOf(tilt(mean, level), tilt(noseDown, level)) > apartDeg;
  }
}

/** The part of a direction that is across another. */
const tilt = (v: Vector, level: Vector): Vector => {
  const down = unit(level);
  return sum(v, scaled(down, -dot(v, down)));
};
const angleOf = (a: Vector, b: Vector): number =>
  (Math.acos(Math.max(-1, Math.min(1, dot(unit(a), unit(b))))) * 180) / Math.PI;

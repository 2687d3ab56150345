/**
 * How a board sits in its craft, from what its accelerometer measures while a hand holds the craft level, nose down, and
 * right side down. Level tells where down is; each tilt, less what of it is down, tells one more axis.
 */
import type {Mounting} from '../controller/arming-fields';
import {
  angleBetween,
  cross,
  dot,
  length,
  matrixOf,
  mountingOf,
  product,
  rightAngled,
  scaled,
  sum,
  transposed,
  unit,
  type Matrix,
  type Vector,
} from './rotation';

/** What the accelerometer measured while the craft was held still, g, in the board's own axes. */
export interface Gestures {
  readonly level: Vector;
  readonly noseDown: Vector;
  readonly rightDown: Vector;
}

export interface FoundMounting {
  readonly kind: 'found';
  readonly mounting: Mounting;
  /** Whether it is one of the 24 by right angles; else it is told as it was measured. */
  readonly isRightAngled: boolean;
  /** Between what was measured and the mounting told, degrees. */
  readonly offDeg: number;
  /** By how much the mounting told may be off, degrees: what hands are off by, and more where the two tilts contradict. */
  readonly boundDeg: number;
  /** To the next of the 24, degrees: the larger, the surer. */
  readonly nextDeg: number;
}
export interface NoMounting {
  readonly kind: 'unclear';
  /** A whole sentence with what to do. */
  readonly why: string;
}

/** A tilt smaller than this says too little of its direction, degrees. */
const minTiltDeg = 20;
/** Gravity may read so far from 1 g: more is a hand that shakes or a sensor without calibration. */
const maxOffG = 0.15;
/** Both tilts have to be this near to a right angle to each other, degrees. */
const maxSkewDeg = 50;
/** Nearer than this to one of the 24 it is that one; farther, and beyond what the hand may be off, as it was measured, degrees. */
const nearDeg = 5;
/** A hand holds a craft level, and an edge level while it tilts, to about this (our assumption), degrees. */
const handDeg = 4;
/** What an accelerometer without calibration adds to a difference of two poses, degrees. */
const sensorDeg = 1;
/** And to where down is: 40 mg in one pose alone, as data sheets of such sensors state it (from memory), degrees. */
const sensorLevelDeg = 2.3;
/** Nobody mounts a board so far off level: then the craft was not held level, degrees. */
const maxTiltedDeg = 20;

const radians = Math.PI / 180;
/** An accelerometer at rest measures what holds it up: gravity with the other sign. */
const downIn = (reading: Vector): Vector => unit(scaled(reading, -1));

export function findMounting(g: Gestures): FoundMounting | NoMounting {
  for (const [name, reading] of [
    ['level', g.level],
    ['nose down', g.noseDown],
    ['right side down', g.rightDown],
  ] as const)
    if (!(Math.abs(length(reading) - 1) < maxOffG))
      return unclear(
        `Held ${name} the accelerometer read ${length(reading).toFixed(2)} g, not 1: hold the craft still.`,
      );
  const down = downIn(g.level);
  const [forward, right] = [tiltOf(downIn(g.noseDown), down), tiltOf(downIn(g.rightDown), down)];
  for (const [name, tilt] of [
    ['nose', forward],
    ['right side', right],
  ] as const)
    if (tilt.deg < minTiltDeg)
      return unclear(
        `With the ${name} down the craft was tilted by ${tilt.deg.toFixed(0)}° only: tilt it by 45° or so.`,
      );
  const skew = Math.abs(90 - Math.acos(dot(forward.axis, right.axis)) / radians);
  if (skew > maxSkewDeg) return unclear('Both tilts went the same way: nose down first, then right side down.');
  if (dot(cross(forward.axis, right.axis), down) < 0)
    return unclear('One of the tilts went the other way: the nose goes down, then the right side.');
  const sine = (deg: number) => Math.sin(Math.min(90, deg) * radians);
  // An edge that is off by some degrees turns the tilt by more, the smaller the tilt; each of the two tells the yaw.
  const yawDeg = Math.max(skew / 2, ((handDeg + sensorDeg) * (1 / sine(forward.deg) + 1 / sine(right.deg))) / 2);
  return told(squared(forward.axis, right.axis, down), {yawDeg, levelDeg: Math.SQRT2 * handDeg + sensorLevelDeg});
}

const unclear = (why: string): NoMounting => ({kind: 'unclear', why});

/** How far and which way a direction left another. */
function tiltOf(direction: Vector, from: Vector): {deg: number; axis: Vector} {
  const along = dot(direction, from);
  const across = sum(direction, scaled(from, -along));
  const size = length(across);
  return {deg: Math.atan2(size, along) / radians, axis: size > 1e-6 ? scaled(across, 1 / size) : [0, 0, 0]};
}

/** Three right angles of axes that are nearly so: down stands, both others share their error. */
function squared(forward: Vector, right: Vector, down: Vector): Matrix {
  const x = unit(sum(forward, cross(right, down)));
  return [x, cross(down, x), down];
}

/** By how much a hand may be off about the vertical, and about any level line. */
interface HandBounds {
  readonly yawDeg: number;
  readonly levelDeg: number;
}

function told(measured: Matrix, hand: HandBounds): FoundMounting | NoMounting {
  const ranked = rightAngled.map((m) => ({m, off: angleBetween(measured, m)})).sort((a, b) => a.off - b.off);
  const [best, next] = [ranked[0]!, ranked[1]!];
  // What is left from the nearest of the 24, in the craft's axes: a turn about the vertical, and down that leans.
  const rest = product(measured, transposed(best.m));
  const yawDeg = Math.atan2(rest[1][0] - rest[0][1], rest[0][0] + rest[1][1]) / radians;
  const leanDeg = Math.acos(Math.max(-1, Math.min(1, rest[2][2]))) / radians;
  const [isStraight, isLevel] = [
    Math.abs(yawDeg) <= Math.max(nearDeg, hand.yawDeg),
    leanDeg <= Math.max(nearDeg, hand.levelDeg),
  ];
  if (leanDeg > maxTiltedDeg) {
    const {roll, pitch} = mountingOf(measured);
    return unclear(
      `The board seems to sit at ${roll.toFixed(0)}° roll and ${pitch.toFixed(0)}° pitch, which no mounting has: hold the craft level first, then try again.`,
    );
  }
  const boundDeg = isLevel ? hand.yawDeg : Math.hypot(hand.yawDeg, hand.levelDeg);
  if (isStraight && isLevel)
    return {
      ...{kind: 'found', isRightAngled: true, offDeg: best.off, boundDeg, nextDeg: next.off},
      mounting: whole(mountingOf(best.m)),
    };
  const turnedOnly = product(matrixOf({roll: 0, pitch: 0, yaw: yawDeg}), best.m);
  const mounting = whole(mountingOf(isLevel ? turnedOnly : measured));
  const offDeg = angleBetween(measured, matrixOf(mounting));
  return {kind: 'found', isRightAngled: false, mounting, offDeg, boundDeg, nextDeg: best.off};
}

const whole = ({roll, pitch, yaw}: Mounting): Mounting => {
  const round = (deg: number) => Math.round(deg) + 0;
  return {roll: round(roll), pitch: round(pitch), yaw: round(yaw) === -180 ? 180 : round(yaw)};
};

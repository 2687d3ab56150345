/** How a craft is held, from what its board's accelerometer measures and how the board is mounted. */
import type {Mounting} from '../controller/arming-fields';
import {matrixOf, turned, unit, type Vector} from './rotation';

export interface Attitude {
  /** Right side down, −180 … 180°. */
  readonly rollDeg: number;
  /** Nose up, −90 … 90°. */
  readonly pitchDeg: number;
}

const degrees = 180 / Math.PI;

/** @param g what was measured, in the board's axes forward, right, down; any length but 0. */
export function attitudeOf(g: Vector, mounting: Mounting): Attitude {
  const [x, y, z] = unit(turned(matrixOf(mounting), g));
  // What holds it up is measured: down is the other way.
  return {rollDeg: Math.atan2(-y, -z) * degrees, pitchDeg: Math.asin(Math.max(-1, Math.min(1, x))) * degrees};
}

/** A point of the craft, forward, right, down, as it lies in the room when the craft is held so; its heading is ahead. */
export const inRoom = (point: Vector, {rollDeg, pitchDeg}: Attitude): Vector =>
  turned(matrixOf({roll: rollDeg, pitch: pitchDeg, yaw: 0}), point);

/**
 * The mixer of any airframe: how much each motor does for throttle, roll, pitch and yaw. The pseudo-inverse of what the motors do
 * to the craft, so that a command about one axis moves no other (control allocation, any text on multirotors), each column scaled
 * to a largest value of 1.
 */
import {Matrix, pseudoInverse} from 'ml-matrix';
import type {Arm, RotationDirection} from './craft';

export const mixerAxes = ['throttle', 'roll', 'pitch', 'yaw'] as const;
export type MixerAxis = (typeof mixerAxes)[number];

/** What a motor does for each axis, −1…1: positive is more throttle. Roll to the right, nose up, nose to the right. */
export type MixerRow = Readonly<Record<MixerAxis, number>>;

export interface Mixer {
  /** One per arm. */
  readonly rows: readonly MixerRow[];
  /** Lever of each axis that is left when the others are held: mm for roll and pitch, 0…1 for yaw, 0…1 for throttle. */
  readonly authority: MixerRow;
  /** Axes that the motors cannot turn the craft about without turning it about another. */
  readonly useless: readonly MixerAxis[];
}

/** A lever below this share of what the arms would give is none. */
const minShare = 0.08;

/**
 * A motor on the left lifts the left side, which rolls to the right; one in front raises the nose. A propeller that turns
 * counter-clockwise turns the craft clockwise: nose to the right.
 */
const effects = ({xMm, yMm}: Arm, sense: RotationDirection): number[] => [1, -xMm, yMm, sense === 'clockwise' ? -1 : 1];

export function mixerOf(arms: readonly Arm[], directions: readonly RotationDirection[]): Mixer {
  const centre = {
    xMm: arms.reduce((sum, a) => sum + a.xMm, 0) / arms.length,
    yMm: arms.reduce((sum, a) => sum + a.yMm, 0) / arms.length,
  };
  const reach = Math.sqrt(
    arms.reduce((sum, a) => sum + (a.xMm - centre.xMm) ** 2 + (a.yMm - centre.yMm) ** 2, 0) / arms.length,
  );
  const columns = arms.map((arm, i) => effects(arm, directions[i]!));
  const scale = [1, reach || 1, reach || 1, 1];
  // Levers in units of the reach, so that no axis outweighs another.
  const allocation = new Matrix(mixerAxes.map((_, axis) => columns.map((c) => c[axis]! / scale[axis]!)));
  const shares = mixerAxes.map((_, axis) => freeShare(allocation, axis));
  const useless = mixerAxes.filter((name, axis) => name !== 'throttle' && shares[axis]! < minShare);
  const inverse = pseudoInverse(allocation, 1e-9);
  const largest = mixerAxes.map((_, axis) => Math.max(...arms.map((__, m) => Math.abs(inverse.get(m, axis)))));
  const rows = arms.map((_, m) =>
    rowOf((axis) => (useless.includes(mixerAxes[axis]!) || !largest[axis] ? 0 : inverse.get(m, axis) / largest[axis])),
  );
  return {rows, authority: rowOf((axis) => shares[axis]! * scale[axis]!), useless};
}

const rowOf = (value: (axis: number) => number): MixerRow => ({
  throttle: value(0),
  roll: value(1),
  pitch: value(2),
  yaw: value(3),
});

/** Root mean square of what is left of an axis when what the other axes can do is taken out. */
function freeShare(allocation: Matrix, axis: number): number {
  const own = allocation.getRowVector(axis);
  const others = allocation.clone();
  others.removeRow(axis);
  // The part of it that lies in the rows of the others: own · O⁺ · O.
  const shared = own.mmul(pseudoInverse(others, 1e-9)).mmul(others);
  const left = Matrix.sub(own, shared).to1DArray();
  return Math.sqrt(left.reduce((sum, v) => sum + v * v, 0) / allocation.columns);
}

/** Throttle of each motor, 0…1, with the sticks at these places, as far as the motors can follow. */
export function sticksToMotors({rows}: Mixer, sticks: MixerRow): number[] {
  return rows.map((row) => {
    const turn = row.roll * sticks.roll + row.pitch * sticks.pitch + row.yaw * sticks.yaw;
    return Math.min(1, Math.max(0, row.throttle * sticks.throttle + turn));
  });
}

/**
 * Rotations of a board in its craft. Axes of both are forward, right, down (any text on flight dynamics): roll is right side
 * down about x, pitch nose up about y, yaw nose to the right about z.
 */
import type {Mounting} from '../controller/arming-fields';

export type Vector = readonly [number, number, number];
/** Rows of a rotation matrix: the craft's axes as the board sees them, so that v_craft = M · v_board. */
export type Matrix = readonly [Vector, Vector, Vector];

export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length = (v: Vector): number => Math.hypot(...v);
export const scaled = (v: Vector, by: number): Vector => [v[0] * by, v[1] * by, v[2] * by];
export const sum = (a: Vector, b: Vector): Vector => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
/** Of at least one vector. */
export const meanOf = (vectors: readonly Vector[]): Vector =>
  scaled(
    vectors.reduce<Vector>((total, v) => sum(total, v), [0, 0, 0]),
    1 / vectors.length,
  );
/** Length of the difference. */
export const distance = (a: Vector, b: Vector): number => length(sum(a, scaled(b, -1)));
/** Throws for a vector without a direction. */
export function unit(v: Vector): Vector {
  const size = length(v);
  if (!(size > 0)) throw new RangeError('A vector of length 0 has no direction');
  return scaled(v, 1 / size);
}
export const transposed = ([a, b, c]: Matrix): Matrix => [
  [a[0], b[0], c[0]],
  [a[1], b[1], c[1]],
  [a[2], b[2], c[2]],
];
/** M · v. */
export const turned = ([a, b, c]: Matrix, v: Vector): Vector => [dot(a, v), dot(b, v), dot(c, v)];
/** A · B. */
export function product(a: Matrix, b: Matrix): Matrix {
  const [x, y, z] = transposed(b);
  const row = (r: Vector): Vector => [dot(r, x), dot(r, y), dot(r, z)];
  return [row(a[0]), row(a[1]), row(a[2])];
}

const radians = Math.PI / 180;

/** Turned about yaw, then about its own pitch, then about its own roll: Rz · Ry · Rx. Degrees. */
export function matrixOf({roll, pitch, yaw}: Mounting): Matrix {
  const [cr, sr, cp, sp, cy, sy] = [roll, pitch, yaw].flatMap((deg) => [
    Math.cos(deg * radians),
    Math.sin(deg * radians),
  ]) as [number, number, number, number, number, number];
  return [
    [cy * cp, cy * sp * sr - sy * cr, cy * sp * cr + sy * sr],
    [sy * cp, sy * sp * sr + cy * cr, sy * sp * cr - cy * sr],
    [-sp, cp * sr, cp * cr],
  ];
}

/** The angles of a rotation, degrees in (−180, 180]; where pitch is ±90° roll is 0. */
export function mountingOf(m: Matrix): Mounting {
  const pitch = Math.asin(Math.max(-1, Math.min(1, -m[2][0])));
  if (Math.abs(m[2][0]) > 1 - 1e-9) {
    // Roll and yaw turn about one axis there: all of it is told as yaw.
    return {roll: 0, pitch: pitch / radians, yaw: plain(Math.atan2(-m[0][1], m[1][1]) / radians)};
  }
  return {
    roll: plain(Math.atan2(m[2][1], m[2][2]) / radians),
    pitch: pitch / radians,
    yaw: plain(Math.atan2(m[1][0], m[0][0]) / radians),
  };
}
const plain = (deg: number) => (deg <= -180 ? deg + 360 : deg);

/** Angle of the rotation from one to the other, degrees: 0 … 180. */
export function angleBetween(a: Matrix, b: Matrix): number {
  const trace = dot(a[0], b[0]) + dot(a[1], b[1]) + dot(a[2], b[2]);
  return Math.acos(Math.max(-1, Math.min(1, (trace - 1) / 2))) / radians;
}

/** w, x, y, z with w ≥ 0: the shorter of the two ways to say a rotation. Shepperd 1978: by the largest of four. */
export function quaternionOf(m: Matrix): readonly [number, number, number, number] {
  const squares = [
    1 + m[0][0] + m[1][1] + m[2][2],
    1 + m[0][0] - m[1][1] - m[2][2],
    1 - m[0][0] + m[1][1] - m[2][2],
    1 - m[0][0] - m[1][1] + m[2][2],
  ];
  const at = squares.indexOf(Math.max(...squares));
  const s = 2 * Math.sqrt(squares[at]!);
  const [wx, wy, wz] = [m[2][1] - m[1][2], m[0][2] - m[2][0], m[1][0] - m[0][1]].map((v) => v / s) as [
    number,
    number,
    number,
  ];
  const [xy, xz, yz] = [m[0][1] + m[1][0], m[0][2] + m[2][0], m[1][2] + m[2][1]].map((v) => v / s) as [
    number,
    number,
    number,
  ];
  const own = s / 4;
  const all = [
    [own, wx, wy, wz],
    [wx, own, xy, xz],
    [wy, xy, own, yz],
    [wz, xz, yz, own],
  ] as const;
  const [w, x, y, z] = all[at]!;
  return w < 0 ? [-w, -x, -y, -z] : [w, x, y, z];
}

const unitAxes: readonly Vector[] = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
  [0, 0, 1],
  [0, 0, -1],
];
/** The 24 ways to put a board in by right angles: where forward and right point, the rest follows. */
export const rightAngled: readonly Matrix[] = unitAxes.flatMap((x) =>
  unitAxes.filter((y) => dot(x, y) === 0).map((y): Matrix => [x, y, cross(x, y)]),
);

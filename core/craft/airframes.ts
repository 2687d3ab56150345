/** Arm positions of the usual airframes, in mm from the centre: x to the right, y to the front. */
import type {Arm} from './craft';

export const airframeNames = [
  'quad X',
  'quad H',
  'quad plus',
  'hex X',
  'octo X',
  'one motor',
  'two motors, side by side',
  'main and tail rotor',
] as const;
export type AirframeName = (typeof airframeNames)[number];

const quadNames = ['front right', 'rear right', 'rear left', 'front left'];
/** Bearing of each arm from the front, clockwise, in degrees; names in the same order. */
const bearings: Readonly<
  Record<Exclude<AirframeName, 'quad H'>, {readonly degrees: readonly number[]; readonly names: readonly string[]}>
> = {
  'quad X': {degrees: [45, 135, 225, 315], names: quadNames},
  'one motor': {degrees: [0], names: ['motor']},
  'two motors, side by side': {degrees: [90, 270], names: ['right', 'left']},
  'main and tail rotor': {degrees: [0, 180], names: ['main rotor', 'tail rotor']},
  'quad plus': {degrees: [0, 90, 180, 270], names: ['front', 'right', 'rear', 'left']},
  'hex X': {
    degrees: [30, 90, 150, 210, 270, 330],
    names: ['front right', 'right', 'rear right', 'rear left', 'left', 'front left'],
  },
  'octo X': {
    degrees: [22.5, 67.5, 112.5, 157.5, 202.5, 247.5, 292.5, 337.5],
    names: [
      'front right',
      'right front',
      'right rear',
      'rear right',
      'rear left',
      'left rear',
      'left front',
      'front left',
    ],
  },
};

/**
 * Arms of an airframe whose motors lie on a circle of `diagonalMm` across, rounded to whole millimetres. An H keeps the
 * diagonal and is 1.25 times as long as it is wide.
 */
export function airframe(name: AirframeName, diagonalMm: number): Arm[] {
  if (name === 'quad H') {
    const width = diagonalMm / Math.hypot(1, 1.25);
    const [x, y] = [Math.round(width / 2), Math.round((width * 1.25) / 2)];
    const corners = [
      [x, y],
      [x, -y],
      [-x, -y],
      [-x, y],
    ] as const;
    return corners.map(([xMm, yMm], i) => ({name: quadNames[i]!, xMm, yMm}));
  }
  const {degrees, names} = bearings[name];
  // One motor is the centre.
  if (degrees.length === 1) return [{name: names[0]!, xMm: 0, yMm: 0}];
  return degrees.map((degree, i) => {
    const angle = (degree * Math.PI) / 180;
    // Adding zero turns -0 into 0.
    const at = (part: number) => Math.round((diagonalMm / 2) * part) + 0;
    return {name: names[i]!, xMm: at(Math.sin(angle)), yMm: at(Math.cos(angle))};
  });
}

/** Distance between the two motors farthest apart, mm. */
export function diagonalOf(arms: readonly Arm[]): number {
  const distances = arms.flatMap((a, i) => arms.slice(i + 1).map((b) => Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm)));
  return Math.max(0, ...distances);
}

/** The airframe whose arms these are, whatever their size; undefined for positions of one's own. */
export function airframeOf(arms: readonly Arm[]): AirframeName | undefined {
  const diagonal = diagonalOf(arms);
  return airframeNames.find((name) => {
    const same = airframe(name, diagonal);
    return (
      same.length === arms.length &&
      same.every((a, i) => Math.abs(a.xMm - arms[i]!.xMm) <= 1 && Math.abs(a.yMm - arms[i]!.yMm) <= 1)
    );
  });
}

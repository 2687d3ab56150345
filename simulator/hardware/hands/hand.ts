/** The hand that holds the craft: it tilts it, never quite still and never quite at the angle that was meant. */
import {Random} from '../../random';

/** How the craft is held. */
export const poses = [
  'level',
  'nose down',
  'right side down',
  'on its left side',
  'upside down',
  'on the bench',
] as const;
export type Pose = (typeof poses)[number];

type Triple = readonly [number, number, number];

/** Roll (right side down) and pitch (nose up) of each pose, degrees: a hand tilts by half a right angle or so. */
const angles: Readonly<Record<Pose, {readonly roll: number; readonly pitch: number}>> = {
  level: {roll: 0, pitch: 0},
  'nose down': {roll: 0, pitch: -48},
  'right side down': {roll: 52, pitch: 0},
  'on its left side': {roll: -80, pitch: 0},
  'upside down': {roll: 180, pitch: 0},
  // Put down: level, and nothing trembles.
  'on the bench': {roll: 0, pitch: 0},
};

const turnMs = 500;
/** Off by so much from what was meant, degrees; trembling, and noise of the accelerometer, g. */
const [offDeg, trembleG, noiseG] = [4, 0.008, 0.006];
const radians = Math.PI / 180;

export class Hand {
  private from = angles.level;
  private to = angles.level;
  private sinceMs = -Infinity;
  private isPutDown = false;

  /** @param mounted how the board really sits in the craft, degrees about yaw, then pitch, then roll. */
  constructor(
    private readonly random: Random,
    /** Someone may mount the board anew. */
    public mounted: {readonly roll: number; readonly pitch: number; readonly yaw: number},
  ) {}

  pose(pose: Pose, nowMs: number): void {
    this.from = this.angles(nowMs);
    this.isPutDown = pose === 'on the bench';
    const miss = () => (this.isPutDown ? 0 : (this.random.next() * 2 - 1) * offDeg);
    this.to = {roll: angles[pose].roll + miss(), pitch: angles[pose].pitch + miss()};
    this.sinceMs = nowMs;
  }

  /** How the craft is held now, degrees. */
  angles(nowMs: number): {readonly roll: number; readonly pitch: number} {
    const share = Math.min(1, Math.max(0, (nowMs - this.sinceMs) / turnMs));
    const eased = share * share * (3 - 2 * share);
    const between = (a: number, b: number) => a + (b - a) * eased;
    return {roll: between(this.from.roll, this.to.roll), pitch: between(this.from.pitch, this.to.pitch)};
  }

  /** What the board's accelerometer measures, g: what holds the craft up, seen in the board's axes. */
  acceleration(nowMs: number): Triple {
    const {roll, pitch} = this.angles(nowMs);
    const [sr, cr, sp, cp] = [roll, pitch].flatMap((d) => [Math.sin(d * radians), Math.cos(d * radians)]) as [
      number,
      number,
      number,
      number,
    ];
    // Up in the craft's axes forward, right, down; then into the board's, turned back about yaw, pitch, roll.
    const up: Triple = [sp, -cp * sr, -cp * cr];
    const [x, y, z] = intoBoard(up, this.mounted);
    const shake = () => this.random.normal() * Math.hypot(this.isPutDown ? 0 : trembleG, noiseG);
    return [x + shake(), y + shake(), z + shake()];
  }
}

/** Each rotation undone in the order in which it was made. */
function intoBoard(
  [x, y, z]: Triple,
  m: {readonly roll: number; readonly pitch: number; readonly yaw: number},
): Triple {
  const [cy, sy] = [Math.cos(m.yaw * radians), Math.sin(m.yaw * radians)];
  const [x1, y1] = [cy * x + sy * y, -sy * x + cy * y];
  const [cp, sp] = [Math.cos(m.pitch * radians), Math.sin(m.pitch * radians)];
  const [x2, z2] = [cp * x1 - sp * z, sp * x1 + cp * z];
  const [cr, sr] = [Math.cos(m.roll * radians), Math.sin(m.roll * radians)];
  return [x2, cr * y1 + sr * z2, -sr * y1 + cr * z2];
}

/** What Arming says of how the board is mounted: the craft as it is held now, the poses asked, what they show. */
import {judgeMounting, mountingText} from '../../arming/arming-proofs';
import {attitudeOf, inRoom, type Attitude} from '../../arming/attitude';
import {gestures, gestureWords} from '../../arming/gesture-watch';
import type {FoundMounting, NoMounting} from '../../arming/mounting';
import type {Vector} from '../../arming/rotation';
import type {Mounting} from '../../controller/arming-fields';
import type {Arm} from '../../craft/craft';
import {armingField, askLines, isSetAsPlanned, type AskLine, type VerdictLine} from './arming';
import type {JudgedCraft} from '../craft-question';

/** What is looked at now. */
export interface MountingNow {
  /** What the accelerometer measures, g, in the board's axes; undefined while it does not. */
  readonly g: Vector | undefined;
  /** Poses taken so far; undefined while none is asked. */
  readonly taken: number | undefined;
  readonly result: FoundMounting | NoMounting | undefined;
}

interface MountingSheet {
  readonly figures: string;
  readonly poses: readonly AskLine[];
  readonly begin: {readonly isOpen: boolean; readonly title: string};
  /** What a person is asked now; empty while nothing is. */
  readonly asked: string;
  /** What the poses showed; undefined before. */
  readonly verdict: VerdictLine | undefined;
  /** What is better planned, by what they showed. */
  readonly offer: {readonly mounting: Mounting; readonly text: string} | undefined;
  readonly found: string;
  readonly planned: string;
  readonly isSet: boolean;
}

export function mountingSheet(q: JudgedCraft, {g, taken, result}: MountingNow): MountingSheet {
  const {set, planned} = armingField(q, 'mounting');
  const held = g && attitudeOf(g, set);
  const verdict = verdictOf(result, set);
  const isNews = result?.kind === 'found' && mountingText(planned) !== mountingText(result.mounting);
  return {
    figures: held ? `roll ${held.rollDeg.toFixed(0)}°, pitch ${held.pitchDeg.toFixed(0)}°` : 'roll –, pitch –',
    poses: askLines(
      gestures.map((gesture) => `${gestureWords[gesture]}, and still for a moment.`),
      taken,
    ),
    begin: {isOpen: held !== undefined, title: result ? 'Show it again' : 'Begin'},
    asked: taken === undefined ? '' : `${gestureWords[gestures[Math.min(taken, gestures.length - 1)]!]}.`,
    verdict,
    offer: isNews && !verdict?.holds ? {mounting: result.mounting, text: mountingText(result.mounting)} : undefined,
    found: mountingText(set),
    planned: mountingText(planned),
    isSet: isSetAsPlanned(q, 'mounting'),
  };
}

function verdictOf(result: MountingNow['result'], set: Mounting): VerdictLine | undefined {
  if (!result) return undefined;
  if (result.kind === 'unclear') return {holds: false, title: 'Not clear', text: result.why};
  const {holds, text} = judgeMounting(result, set);
  return {holds, title: holds ? 'As set' : 'Not as set', text};
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/** The craft as it is held, seen from behind and above, in a drawing 300 wide whose middle is 150 from the left and the top. */
export interface AttitudeShape {
  readonly label: string;
  /** The level that it is held against, as the path of an SVG. */
  readonly level: string;
  readonly arms: readonly {readonly at: Point; readonly disc: string; readonly isFront: boolean}[];
  /** Path of the nose; empty while nothing is measured. */
  readonly nose: string;
  /** Sides of the craft by their names; none while nothing is measured. */
  readonly sides: readonly {readonly name: string; readonly at: Point}[];
}

/** Half the drawing and the reach of a length of 1; the eye stands so far above the craft, degrees. */
const [half, reach, above] = [150, 112, 24];
const [ca, sa] = [Math.cos((above * Math.PI) / 180), Math.sin((above * Math.PI) / 180)];
/** Reach of the longest arm, radius of a propeller and of the level, in lengths of 1. */
const [armReach, discRadius, levelRadius] = [0.78, 0.24, 1.08];
/** Where the names of the sides stand, in the plane of the craft. */
const sidesAt: readonly (readonly [string, Vector])[] = [
  ['front', [0.94, 0, 0]],
  ['right', [0, 0.86, 0]],
];
const noseCorners: readonly Vector[] = [
  [0.5, 0, 0],
  [0.14, -0.14, 0],
  [0.14, 0.14, 0],
];

/** @param g as in {@link MountingNow}. */
export function attitudeShape(q: JudgedCraft, g: Vector | undefined): AttitudeShape {
  const level = ring([0, 0, 0], levelRadius, {rollDeg: 0, pitchDeg: 0});
  if (!g) return {label: 'The craft; nothing is measured', level, arms: [], nose: '', sides: []};
  const held = attitudeOf(g, armingField(q, 'mounting').set);
  return {
    label: heldText(held),
    level,
    arms: drawnArms(q.craft.arms, held),
    nose: path(noseCorners.map((corner) => seen(inRoom(corner, held)))),
    sides: sidesAt.map(([name, point]) => ({name, at: seen(inRoom(point, held))})),
  };
}

const heldText = ({rollDeg, pitchDeg}: Attitude): string =>
  `The craft from behind: ${Math.abs(rollDeg).toFixed(0)}° ${rollDeg < 0 ? 'left' : 'right'} side down, nose ${Math.abs(pitchDeg).toFixed(0)}° ${pitchDeg < 0 ? 'down' : 'up'}`;

function drawnArms(arms: readonly Arm[], held: Attitude): AttitudeShape['arms'] {
  const scale = armReach / Math.max(1, ...arms.map((a) => Math.hypot(a.xMm, a.yMm)));
  return arms.map(({xMm, yMm}) => {
    const at: Vector = [yMm * scale, xMm * scale, -0.03];
    return {at: seen(inRoom(at, held)), disc: ring(at, discRadius, held), isFront: yMm > 0};
  });
}

/** Seen from behind and above: what lies ahead is higher up. */
const seen = ([forward, right, down]: Vector): Point => ({
  x: half + right * reach,
  y: half + (down * ca - forward * sa) * reach,
});

const path = (points: readonly Point[]): string =>
  `M${points.map(({x, y}) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;

/** A circle in the plane of the craft. */
function ring([f, r, d]: Vector, radius: number, held: Attitude): string {
  const around = Array.from({length: 36}, (_, i) => (i * Math.PI) / 18);
  return path(around.map((a) => seen(inRoom([f + radius * Math.cos(a), r + radius * Math.sin(a), d], held))));
}

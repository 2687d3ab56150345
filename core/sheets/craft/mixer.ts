/** What Spin says of the mixer: what each motor does about each axis, what the flight controller holds, and the sticks tried. */
import {mixerDifferences} from '../../craft/compare-mixer';
import {wantedDirections} from '../../craft/craft';
import {mixerCsv, readMixer} from '../../craft/mixer-text';
import {asMixerSetting, mixerEntry, mixerRowsIn, plannedMixer} from '../../craft/own-mixer';
import type {SettingEdits} from '../../controller/settings/planned-settings';
import {sameJson} from '../../canonical-json';
import {mixerAxes, mixerOf, sticksToMotors, type Mixer, type MixerAxis, type MixerRow} from '../../craft/mixer';
import {wholePercent} from '../../words/percent';
import type {JudgedCraft} from '../craft-question';
export type {MixerAxis, MixerRow};

/** An axis with the stick that asks for it. */
interface AxisLine {
  readonly axis: MixerAxis;
  readonly name: string;
  readonly direction: string;
  /** Of the stick, −1…1, and as it is shown. */
  readonly value: number;
  readonly text: string;
  /** Lowest place of the stick. */
  readonly from: number;
  /** The lever that is left to the axis when the others are held; "–" for throttle. */
  readonly lever: string;
}

interface MixerLine {
  readonly arm: string;
  readonly turns: string;
  /** In the order of the axes, signed. */
  readonly cells: readonly string[];
}

/** The mixer that the flight controller holds, beside the one that the craft needs. */
interface HeldMixer {
  readonly state: 'not read' | 'agrees' | 'differs';
  readonly differences: readonly string[];
}

/** An arm where it is drawn: right and down of the middle, the longest one 84 from it. */
interface PlacedArm {
  readonly x: number;
  readonly y: number;
  /** Throttle that the sticks ask of it, 0…1, and in percent. */
  readonly throttle: number;
  readonly percent: string;
}

/** A mixer of its own on the flight controller: what it holds, what is planned, and what can be. */
interface OwnMixer {
  readonly lines: readonly {readonly name: string; readonly text: string}[];
  readonly actions: readonly {readonly text: string; readonly edits: SettingEdits}[];
  /** Which two settings of the direction go together. */
  readonly directions: string;
}

interface MixerSheet {
  /** Undefined where its firmware takes none, or it was not read. */
  readonly own: OwnMixer | undefined;
  readonly props: string;
  readonly axes: readonly AxisLine[];
  readonly lines: readonly MixerLine[];
  readonly held: HeldMixer;
  /** Axes that the motors cannot turn the craft about without turning it about another. */
  readonly useless: readonly MixerAxis[];
  readonly placed: readonly PlacedArm[];
  readonly spoken: string;
}

export const centredSticks: MixerRow = {throttle: 0.5, roll: 0, pitch: 0, yaw: 0};

const axisWords: Readonly<Record<MixerAxis, {readonly name: string; readonly direction: string}>> = {
  throttle: {name: 'Throttle', direction: 'none to full'},
  roll: {name: 'Roll', direction: 'left to right'},
  pitch: {name: 'Pitch', direction: 'nose down to nose up'},
  yaw: {name: 'Yaw', direction: 'nose left to nose right'},
};
/** Where the tip of the longest arm is drawn. */
const reachDrawn = 84;

const ownMixer = ({craft}: JudgedCraft): Mixer => mixerOf(craft.arms, wantedDirections(craft));

export function mixerSheet(q: JudgedCraft, sticks: MixerRow): MixerSheet {
  const {arms} = q.craft;
  const mixer = ownMixer(q);
  const senses = wantedDirections(q.craft);
  const throttles = sticksToMotors(mixer, sticks);
  return {
    own: ownSetting(q, mixer),
    props: q.craft.props,
    axes: mixerAxes.map((axis) => axisLine(axis, mixer, sticks)),
    lines: mixer.rows.map((row, m) => ({
      arm: arms[m]!.name,
      turns: senses[m]!,
      cells: mixerAxes.map((axis) => signed(row[axis])),
    })),
    held: heldMixer(q, mixer),
    useless: mixer.useless,
    placed: placedArms(q, throttles),
    spoken: arms.map((arm, m) => `${arm.name} ${wholePercent(throttles[m]!)}`).join(', '),
  };
}

function axisLine(axis: MixerAxis, {authority}: Mixer, sticks: MixerRow): AxisLine {
  const lever = {
    throttle: '–',
    roll: mmText(authority.roll),
    pitch: mmText(authority.pitch),
    yaw: wholePercent(authority.yaw),
  };
  return {
    ...{axis, ...axisWords[axis], lever: lever[axis]},
    ...{value: sticks[axis], text: wholePercent(sticks[axis]), from: axis === 'throttle' ? 0 : -1},
  };
}

const mmText = (mm: number): string => `${mm.toFixed(0)} mm`;

/** "+1.00", "−0.71", " 0.00": nothing has no sign. */
function signed(value: number): string {
  const text = Math.abs(value).toFixed(2);
  return (text === '0.00' ? ' ' : value > 0 ? '+' : '−') + text;
}

function heldMixer({craft, record}: JudgedCraft, mixer: Mixer): HeldMixer {
  const held = record.found?.controller?.mixer;
  const differences = held && mixerDifferences(held, {mixer, arms: craft.plan.controller.arms});
  if (!differences) return {state: 'not read', differences: []};
  return {state: differences.length ? 'differs' : 'agrees', differences: differences.map((d) => d.text)};
}

function placedArms({craft: {arms}}: JudgedCraft, throttles: readonly number[]): PlacedArm[] {
  const reach = Math.max(1, ...arms.map((a) => Math.max(Math.abs(a.xMm), Math.abs(a.yMm))));
  return arms.map(({xMm, yMm}, m) => ({
    ...{x: (xMm / reach) * reachDrawn, y: (-yMm / reach) * reachDrawn},
    ...{throttle: throttles[m]!, percent: (throttles[m]! * 100).toFixed(0)},
  }));
}

const entryOf = ({record}: JudgedCraft) => mixerEntry(record.found?.controller?.settings?.entries ?? []);

/** Rows of the arms in the order of the outputs. */
const byOutput = ({craft}: JudgedCraft, rows: readonly MixerRow[]): MixerRow[] =>
  craft.plan.controller.arms.flatMap((arm) => rows[arm] ?? []);

function ownSetting(q: JudgedCraft, mixer: Mixer): OwnMixer | undefined {
  const entry = entryOf(q);
  if (!entry) return undefined;
  const held = mixerRowsIn(q.record.found!.controller!.settings!.values[entry.key]);
  const planned = plannedMixer(q.plan.settings);
  const fitted = asMixerSetting(entry, byOutput(q, mixer.rows));
  const wanted = 'value' in fitted ? fitted.value : undefined;
  const next = planned ?? held;
  const nameOf = (rows: readonly MixerRow[]) => {
    if (!rows.length) return 'that of its airframe';
    return `${sameJson(rows, wanted) ? 'the one computed here' : 'one of its own'}, ${rows.length} rows`;
  };
  const to = (text: string, value: SettingEdits[string]) => ({text, edits: {[entry.key]: value}});
  return {
    lines: [
      {name: 'found', text: nameOf(held)},
      {name: 'plan', text: planned ? nameOf(planned) : 'as found'},
      ...('why' in fitted ? [{name: 'no room', text: fitted.why}] : []),
    ],
    actions: [
      ...(wanted === undefined || sameJson(next, wanted) ? [] : [to('Plan this mixer', wanted)]),
      ...(next.length ? [to('Plan that of the airframe', [])] : []),
      ...(planned ? [to('Leave it as found', undefined)] : []),
    ],
    directions: next.length
      ? 'A mixer of its own is used as it is: its yaw column decides, and the propeller direction of the flight controller does not change it. To turn the direction round, plan the rotation of all ESCs and this mixer together.'
      : 'The propeller direction of the flight controller decides about yaw. To turn it round, plan that and the rotation of all ESCs together; a mixer of its own would replace the first.',
  };
}

/** What a text of a mixer would plan, or why it cannot. */
export type MixerOfText = {readonly edits: SettingEdits} | {readonly why: string};

export function mixerOfText(q: JudgedCraft, text: string): MixerOfText {
  const entry = entryOf(q);
  if (!entry) return {why: 'The firmware of this flight controller takes no mixer of its own.'};
  const read = readMixer(text, q.craft.arms);
  if ('why' in read) return read;
  const fitted = asMixerSetting(entry, byOutput(q, read.rows));
  return 'why' in fitted ? fitted : {edits: {[entry.key]: fitted.value}};
}

/** The mixer as a file, one line per arm. */
export const mixerFile = (q: JudgedCraft): {readonly name: string; readonly text: string} => ({
  name: `${q.craft.name.toLowerCase()}-mixer.csv`,
  text: mixerCsv(ownMixer(q), q.craft.arms),
});

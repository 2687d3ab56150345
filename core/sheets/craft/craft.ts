/** What Craft says: arms and outputs, what of motor and pack is estimated, and what the labels say to the current that is predicted. */
import {fullCurrent, packRuleIds} from '../../compare/rules/pack';
import type {Finding, PlannedEsc} from '../../compare/rules/rule';
import {airframeNames, airframeOf, diagonalOf, type AirframeName} from '../../craft/airframes';
import {canEstimate, type WindingKey} from '../../motor/craft-edits';
import {
  steersByMotors,
  wantedDirections,
  type Craft,
  type GuessedPart,
  type RotationDirection,
} from '../../craft/craft';
import type {Board} from '../../firmware/releases';
import {estimatePackResistance, inductanceTrust, packTrust, resistanceTrust} from '../../motor/estimates';
import {torqueConstant} from '../../motor/motor';
import type {Choice} from '../choice';
import {outputLabel, type DrawnArm} from '../spin/spin-order';
export type {AirframeName, WindingKey};

/** What the plan makes of the ESCs, and what it breaks. */
export interface CraftNow {
  readonly escs: readonly PlannedEsc[];
  readonly findings: readonly Finding[];
  /** Boards of the catalogue; empty before it was read. */
  readonly boards: readonly Board[];
}

interface OutputChoice {
  readonly output: number;
  readonly arm: number;
  readonly turns: RotationDirection | undefined;
}

/** Where a value of the winding comes from. */
interface WindingNote {
  readonly key: WindingKey;
  readonly name: string;
  readonly isEstimated: boolean;
  readonly text: string;
  readonly canEstimate: boolean;
}

interface PackFinding {
  readonly id: string;
  readonly tag: 'diff' | 'wait';
  readonly word: string;
  readonly text: string;
}

interface CraftSheet {
  readonly airframes: Choice<AirframeName>[];
  /** Undefined where its arms are of no airframe that has a name. */
  readonly airframe: AirframeName | undefined;
  /** Motor to motor, mm. */
  readonly diagonal: number;
  readonly drawn: readonly DrawnArm[];
  readonly armChoices: Choice<number>[];
  readonly outputs: readonly OutputChoice[];
  /** Ways a motor may be said to turn; undefined where that follows from the arms. */
  readonly turnChoices: Choice<RotationDirection>[] | undefined;
  /** Whether this may be a helicopter: it has one motor or two. */
  readonly mayBeHelicopter: boolean;
  readonly winding: Readonly<Record<WindingKey, WindingNote>>;
  readonly torque: string;
  /** Internal resistance of the pack as it was entered, mΩ; undefined where it is estimated. */
  readonly packMilliohm: number | undefined;
  readonly packEstimate: string;
  readonly packNote: string;
  /** Empty where too little is known. */
  readonly fullThrottle: string;
  readonly packFindings: readonly PackFinding[];
  readonly boards: Choice<string>[];
  /** What is said beside the heading of a part that the starting plan guessed; undefined for one that is known. */
  readonly guesses: Readonly<Partial<Record<GuessedPart, string>>>;
}

export function craftSheet(craft: Craft, {escs, findings, boards}: CraftNow): CraftSheet {
  const {arms, plan, battery, motor} = craft;
  const directions = wantedDirections(craft);
  const drawn = fullCurrent({craft, escs});
  return {
    airframes: airframeNames.map((value) => ({label: value, value})),
    ...{airframe: airframeOf(arms), diagonal: Math.round(diagonalOf(arms))},
    drawn: arms.map((_, arm) => drawnArm(directions[arm], plan.controller.arms.indexOf(arm))),
    armChoices: arms.map(({name}, value) => ({label: name, value})),
    outputs: plan.controller.arms.map((arm, output) => ({output, arm, turns: directions[arm]})),
    turnChoices: steersByMotors(craft) ? undefined : turnChoices,
    mayBeHelicopter: arms.length <= 2,
    winding: {resistanceOhm: windingNote(craft, 'resistanceOhm'), inductanceH: windingNote(craft, 'inductanceH')},
    torque: `${(torqueConstant(motor.kv) * 1000).toFixed(2)} mN·m/A`,
    packMilliohm: battery.resistanceOhm === undefined ? undefined : battery.resistanceOhm * 1000,
    packEstimate: `${(estimatePackResistance(battery).value * 1000).toFixed(1)} mΩ, an estimate`,
    packNote: `from cells and capacity, good to a factor of ${packTrust}`,
    fullThrottle: drawn ? `${drawn.perMotor.toFixed(0)} A per motor, ${drawn.inAll.toFixed(0)} A in all` : '',
    packFindings: findings.filter((f) => packRuleIds.includes(f.id)).map(packFinding),
    guesses: Object.fromEntries((craft.guessed ?? []).map((part) => [part, guessText])),
    boards: boards.map(({name, chip, kind}) => ({label: `${name}, ${chip}, ${kind}`, value: name})),
  };
}

const turnChoices: Choice<RotationDirection>[] = [
  {label: 'clockwise', value: 'clockwise'},
  {label: 'counter-clockwise', value: 'counter-clockwise'},
];

const guessText = 'From the starting plan. Correct what is otherwise, or confirm it.';

const drawnArm = (sense: RotationDirection | undefined, output: number): DrawnArm => ({
  ...{sense, label: outputLabel(output), state: 'open'},
});

const winding: Readonly<Record<WindingKey, {readonly name: string; readonly trust: number}>> = {
  resistanceOhm: {name: 'winding resistance', trust: resistanceTrust},
  inductanceH: {name: 'winding inductance', trust: inductanceTrust},
};

function windingNote(craft: Craft, key: WindingKey): WindingNote {
  const {name, trust} = winding[key];
  const isEstimated = craft.motor.estimated?.includes(key) ?? false;
  const isMeasured = key === 'resistanceOhm' && craft.motor.measured !== undefined;
  const entered = isMeasured ? 'measured by the motor card' : 'as entered';
  const text = isEstimated ? `from size and KV, good to a factor of ${trust}` : entered;
  return {key, name, isEstimated, text, canEstimate: canEstimate(craft)};
}

const packFinding = ({id, severity, meaning, remedy}: Finding): PackFinding => ({
  id,
  ...(severity === 'refuse' ? {tag: 'diff', word: 'refused'} : {tag: 'wait', word: 'look'}),
  text: `${meaning} ${remedy}`,
});

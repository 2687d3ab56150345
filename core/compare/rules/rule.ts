/** A rule across parameters: what it looks at, and what it says when it is broken. */
import type {Craft} from '../../craft/craft';
import {plannedFirmware} from '../../craft/motor-firmware';
import type {Found} from '../../bench/found';
import {heldOwnMixer} from '../../craft/own-mixer';
import type {MixerRow} from '../../craft/mixer';
import type {SettingValues} from '../../link/setting-shapes';
import type {Board, Release} from '../../firmware/releases';
import type {Hardware} from '../../firmware/plan/fit';
import type {Identity} from '../../firmware/identity';
import type {EffectQuestion} from '../../motor/effects/effect';
import {canModel} from '../../motor/model';
import type {ControllerIdentity} from '../../link/operations';
import type {LayoutRevision, ParameterKey} from '../../settings/definitions';
import {valueIn, type Settings} from '../../settings/page';
import {motorList} from '../../words/motor-list';
import type {Sighting} from '../../spin/sighting/sighting';

/** One ESC as it will be when the plan is carried out. */
export interface PlannedEsc {
  readonly output: number;
  readonly hardware: Hardware | undefined;
  /** Firmware it will run. */
  readonly identity: Identity | undefined;
  readonly layout: LayoutRevision | undefined;
  readonly settings: Settings;
}

export interface RuleQuestion {
  readonly craft: Craft;
  readonly escs: readonly PlannedEsc[];
  readonly sightings: readonly Sighting[];
  /** Processor of the flight controller and its rated clock, where it was found. */
  readonly processor: Pick<ControllerIdentity, 'chip' | 'clockMhz'> | undefined;
  /** What the ESC boards of the craft are rated for; undefined where no catalogue tells it. */
  readonly board?: BoardRating | undefined;
  /** What the catalogue says of published firmware. */
  readonly releases?: readonly Release[] | undefined;
  /** What the bench holds now that decides about the plan; undefined before a survey. */
  readonly held: HeldNow | undefined;
}

export type BoardRating = Pick<Board, 'name' | 'amps' | 'cells'>;

interface HeldNow {
  /** Propeller direction of the flight controller; undefined where it was not read or does not tell it. */
  readonly props: Craft['props'] | undefined;
  /** Rotation setting of each output; undefined where its ESC does not tell it. */
  readonly rotation: Readonly<Record<number, number | undefined>>;
  /** Rows of a mixer of its own; none where the flight controller mixes for its airframe. */
  readonly mixer?: readonly MixerRow[];
  /** Its other settings; undefined where they were not read. */
  readonly settings?: SettingValues | undefined;
}

export const heldNow = (found: Found | undefined): HeldNow | undefined =>
  found && {
    props: found.controller?.config.props,
    rotation: Object.fromEntries(found.escs.map((e) => [e.output, e.settings?.values.rotation])),
    settings: found.controller?.settings?.values,
    mixer: heldOwnMixer(found.controller?.settings),
  };

/** What breaks a rule. `outputs` names the motors; without them the whole craft is meant. */
interface Breach {
  readonly meaning: string;
  readonly outputs?: readonly number[];
}

export interface Rule {
  readonly id: string;
  /** Dangerous plans are refused; others are carried out with the consequence told. */
  readonly severity: 'refuse' | 'warn';
  /** Parameters the finding is shown beside. */
  readonly keys: readonly ParameterKey[];
  readonly remedy: string;
  readonly check: (question: RuleQuestion) => Breach | undefined;
}

export interface Finding extends Omit<Rule, 'check'> {
  readonly place: string;
  readonly meaning: string;
}

/** Value an ESC will hold; the default where its firmware's page says nothing. */
export const heldBy = ({settings}: PlannedEsc, key: ParameterKey): number => valueIn(settings, key);

/** A breach on every motor whose ESC fails `breaks`. */
export function onMotors(
  {escs}: RuleQuestion,
  breaks: (esc: PlannedEsc) => boolean,
  meaning: (first: PlannedEsc) => string,
): Breach | undefined {
  const broken = escs.filter(breaks);
  const first = broken[0];
  return first && {meaning: meaning(first), outputs: broken.map((e) => e.output)};
}

/** The question that physics is asked for one ESC of the plan; undefined while its board or the motors' size is not known. */
export function physicsOf(
  craft: Craft,
  {output, hardware, identity, settings}: Pick<PlannedEsc, 'output' | 'hardware' | 'identity' | 'settings'>,
): EffectQuestion | undefined {
  if (!canModel(craft)) return undefined;
  // Before a survey no image tells its build: then the plan does.
  const builtPwmKhz = identity ? identity.pwmKhz : plannedFirmware(craft.plan, output).pwmKhz;
  return hardware && {craft, deadTimeS: hardware.deadTimeNs * 1e-9, settings, builtPwmKhz};
}

function placeOf({outputs}: Breach, craft: Pick<Craft, 'arms'>): string {
  return outputs ? motorList(outputs, craft.arms.length) : 'whole craft';
}

/** Every one of the rules that a question breaks, refusals first. */
export function judgeBy(rules: readonly Rule[], question: RuleQuestion): Finding[] {
  const findings = rules.flatMap(({check, ...rule}): Finding[] => {
    const breach = check(question);
    return breach ? [{...rule, meaning: breach.meaning, place: placeOf(breach, question.craft)}] : [];
  });
  return [...findings.filter((f) => f.severity === 'refuse'), ...findings.filter((f) => f.severity === 'warn')];
}

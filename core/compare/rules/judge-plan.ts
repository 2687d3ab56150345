/** Holds a plan against every rule. */
import {plannedFor, type Craft} from '../../craft/craft';
import type {Found} from '../../bench/found';
import {plannedFirmware} from '../../craft/motor-firmware';
import {isPlannedBack} from '../../firmware/plan/kept-application';
import type {ImageFor} from '../../firmware/plan/planned-image';
import {type OrderEsc} from '../esc-firmware';
import {identityOf} from '../../firmware/plan/planned-image';
import type {Sighting} from '../../spin/sighting/sighting';
import {targetLayout, targetSettings} from '../target-settings';
import type {Hardware} from '../../firmware/plan/fit';
import {armingRules} from './arming';
import {clockRules} from './processor-clock';
import {packRules} from './pack';
import {physicsRules} from './physics';
import {heldNow, judgeBy, type Finding, type PlannedEsc, type Rule, type RuleQuestion} from './rule';
import {signalRules} from './signals';
import {valueRules} from './values';

export const rules: readonly Rule[] = [
  ...valueRules,
  ...signalRules,
  ...armingRules,
  ...clockRules,
  ...packRules,
  ...physicsRules,
];

/** Every rule the plan breaks, refusals first. */
export const judgePlan = (question: RuleQuestion): Finding[] => judgeBy(rulesFor(question.craft), question);

/** Of a loose ESC nothing is known but its settings: no motor, no pack, no flight controller. */
const rulesFor = ({loose}: Craft): readonly Rule[] => (loose ? valueRules : rules);

/** ESCs as they will be when the plan is carried out on what was found. */
export function plannedEscs(craft: Craft, found: Found, imageFor: ImageFor): PlannedEsc[] {
  return found.escs.map((esc) => {
    const {output, hardware} = esc;
    const base = hardware && imageFor({output, hardware}, 'base');
    return plannedEsc(craft, {esc, identity: base && identityOf(base.image, esc.boot.chip, 'base')});
  });
}

/** ESCs as they are planned, before any survey: `board` is of the craft's ESCs, where the catalogue knows it. */
export function escsOfPlan(craft: Craft, board: Hardware | undefined): PlannedEsc[] {
  return craft.arms.map((_, output) => ({
    output,
    hardware: board,
    identity: undefined,
    layout: undefined,
    settings: Object.fromEntries(
      Object.entries(craft.plan.parameters).flatMap(([key, planned]) => {
        const value = plannedFor(planned, output);
        return value === undefined ? [] : [[key, value]];
      }),
    ),
  }));
}

/** One ESC as it will be; `identity` is of the image planned for it, where that is at hand. */
export function plannedEsc(craft: Craft, {esc, identity}: Pick<OrderEsc, 'esc' | 'identity'>): PlannedEsc {
  // What Bidex cannot read may do anything: nothing is judged of it.
  if (isPlannedBack(plannedFirmware(craft.plan, esc.output)))
    return {output: esc.output, hardware: esc.hardware, identity: undefined, layout: undefined, settings: {}};
  const layout = targetLayout({esc, identity}, true);
  return {
    output: esc.output,
    hardware: esc.hardware,
    identity: identity ?? esc.identity,
    layout,
    settings: layout === undefined ? {} : targetSettings(craft, esc, layout),
  };
}

export function ruleQuestion(
  craft: Craft,
  found: Found,
  imageFor: ImageFor,
  sightings: readonly Sighting[] = [],
): RuleQuestion {
  return {
    craft,
    escs: plannedEscs(craft, found, imageFor),
    sightings,
    processor: found.controller?.identity,
    held: heldNow(found),
  };
}

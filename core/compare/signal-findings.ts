/** What a person should know about the planned signal: with the figure that says so, and one thing to do next. */
import type {ControllerPlan} from '../controller/plan';
import {preferredPairs} from '../controller/preferred-pairs';
import {judgePair, samePair, type SignalPair, type SignalPlace} from '../controller/signal-pair';
import {protocolName} from '../dshot/protocol';
import type {Remark} from '../remark';

/** One thing to do: a change of the plan that is made at once, a station to go to, or work at the craft. */
export type NextAction =
  | {readonly text: string; readonly bench: true}
  | {readonly text: string; readonly change: Partial<ControllerPlan>}
  | {
      readonly text: string;
      readonly station: 'craft' | 'survey' | 'firmware' | 'parameters' | 'spin' | 'signal' | 'arming' | 'noise';
    };

export interface SignalFinding extends Remark {
  readonly id: string;
  readonly action?: NextAction | undefined;
}

export const pairText = ({protocol, replies, loopHz}: SignalPair): string =>
  `${protocolName[protocol]}${replies ? ' with replies' : ''} at ${loopHz / 1000} kHz`;

interface SignalQuestion {
  readonly plan: ControllerPlan;
  readonly place: SignalPlace;
  /** Magnets counted on a motor. */
  readonly countedPoles: number;
}

/** To plan the best pair; undefined where it is planned already or there is none. */
export function planBest(plan: ControllerPlan, place: SignalPlace, countedPoles: number): NextAction | undefined {
  const best = preferredPairs(plan, place, 1)[0];
  if (!best || samePair(best.pair, plan)) return undefined;
  return {text: `Plan ${pairText(best.pair)}`, change: pairChange(best.pair, countedPoles)};
}

export function signalFindings({plan, place, countedPoles}: SignalQuestion): readonly SignalFinding[] {
  const own = judgePair(plan, plan, place);
  const isGood = own.verdict === 'feasible' && plan.replies;
  const action = isGood ? undefined : planBest(plan, place, countedPoles);
  const out: SignalFinding[] = [];
  if (own.fault) out.push({id: own.fault.replace(/ /g, '-'), tag: 'diff', word: own.fault, text: own.why, action});
  else if (own.verdict === 'tight') out.push({id: 'tight', tag: 'wait', word: 'tight', text: own.why, action});
  if (!plan.replies)
    out.push({
      ...{id: 'no-replies', tag: 'wait', word: 'no replies', action},
      text: 'Without replies the speed of the motors is unknown: no filter can follow them, and replies cannot be proven.',
    });
  if (plan.poles !== countedPoles)
    out.push({
      ...{id: 'poles', tag: 'diff', word: 'poles'},
      text: `Planned are ${plan.poles} poles, the motors have ${countedPoles}: every speed reads ${(countedPoles / plan.poles).toFixed(2)} × what it is, and filters follow that.`,
      action: {text: `Plan ${countedPoles} poles`, change: {poles: countedPoles}},
    });
  if (plan.replies && plan.extendedReplies && place.chip?.tellsMore === false)
    out.push({
      ...{id: 'extended', tag: 'wait', word: 'speeds alone'},
      text: `Extended replies are planned; the firmware of ${place.chip.name} has no room for them and goes on with speeds.`,
      action: {text: 'Plan them off', change: {extendedReplies: false}},
    });
  return out.length ? out : [{id: 'fits', tag: 'ok', word: 'fits', text: own.why}];
}

/** Both sides of the wire at once: protocol, replies and loop, and the poles that make speeds of replies. */
export const pairChange = ({protocol, replies, loopHz}: SignalPair, countedPoles: number): Partial<ControllerPlan> => ({
  ...{protocol, replies, loopHz},
  ...(replies && {poles: countedPoles}),
});

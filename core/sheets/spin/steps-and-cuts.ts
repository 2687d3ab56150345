/** What Spin asks before the motors turn through a script, and what its hold button tells. */
import {
  hasLength,
  heldSeconds,
  raisedCaps,
  scriptNames,
  scriptOf,
  scriptPurposes,
} from '../../spin/script/script-choices';
import type {ScriptChoice, ScriptName} from '../../spin/script/script-choices';
import type {Choice} from '../choice';
import type {CraftQuestion, JudgedCraft} from '../craft-question';
import {armName} from '../../craft/arm-name';
import {momentText} from '../../words/moment';
import {capital} from '../../words/capital';
import {wholePercent} from '../../words/percent';
export type {ScriptChoice, ScriptName};

/** An output, counted from 0, or all of them. */
export type WhichMotor = number | 'all';

/** What a person has chosen. */
export interface Asked {
  readonly choice: ScriptChoice;
  /** Which motor turns. */
  readonly motor: WhichMotor;
  /** Throttle that no script goes beyond, 0…1. */
  readonly cap: number;
  readonly isCapRaised: boolean;
}

/** How far the hold of now is. */
export interface ScriptHold {
  /** Share of the script that has run; undefined while nothing is held. */
  readonly share: number | undefined;
  /** Commanded, 0…1. */
  readonly throttle: number;
  /** Motor that is driven alone before the script. */
  readonly alone: number | undefined;
  /** Share of the burst that has been read; undefined while none is. */
  readonly reading: number | undefined;
}

interface StepsSheet {
  readonly scripts: Choice<ScriptName>[];
  readonly motors: Choice<WhichMotor>[];
  readonly tops: Choice<number>[];
  /** Undefined where the length of the script cannot be chosen. */
  readonly lengths: Choice<number>[] | undefined;
  readonly caps: Choice<number>[];
  /** Highest throttle that will be reached, 0…1. */
  readonly top: number;
  readonly outputs: readonly number[];
  readonly note: string;
  readonly title: string;
  /** No replies are read, so there are no speeds to measure. */
  readonly lacksReplies: boolean;
  readonly canRaise: boolean;
}

/** Throttles that a script may reach. */
const topShares = [0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8, 1];
const lengthsS = [2, 4, 8, 15, 30, 60];

const shares = (all: readonly number[]): Choice<number>[] => all.map((value) => ({label: wholePercent(value), value}));

export function stepsSheet(q: JudgedCraft, {choice, motor, cap, isCapRaised}: Asked): StepsSheet {
  const {arms, plan} = q.craft;
  const outputs = motor === 'all' ? arms.map((_, output) => output) : [motor];
  const script = scriptOf(choice, plan.controller.idlePercent / 100, cap);
  const seconds = heldSeconds(script, {choice, outputs, motors: arms.length});
  const purpose = scriptPurposes[choice.name];
  return {
    scripts: scriptNames.map((value) => ({label: value, value})),
    motors: [
      {label: 'all motors', value: 'all'},
      ...arms.map((_, value) => ({label: `motor ${value + 1}, ${armName(q.craft, value)}`, value})),
    ],
    tops: shares(topShares.filter((top) => top <= cap)),
    lengths: hasLength(choice.name) ? lengthsS.map((value) => ({label: `${value} s`, value})) : undefined,
    caps: shares(raisedCaps),
    top: Math.min(choice.top, cap),
    outputs,
    note: `${capital(purpose)}, ${seconds.toFixed(1)} s, never above ${wholePercent(cap)} throttle.`,
    title: `Hold for ${seconds.toFixed(0)} s`,
    lacksReplies: !q.record.found?.controller?.config.replies,
    canRaise: !isCapRaised,
  };
}

interface ScriptButton {
  readonly isBusy: boolean;
  readonly canHold: boolean;
  readonly share: number;
  readonly note: string;
}

/** What the hold button tells: it moves with every report, and is asked apart from the rest. */
export function scriptButton({record, bench}: CraftQuestion, hold: ScriptHold): ScriptButton {
  const isHeld = hold.share !== undefined;
  const isReading = hold.reading !== undefined;
  const isReady = bench.isPropsOff && !!record.found?.controller?.config.replies;
  return {
    isBusy: isHeld || isReading,
    canHold: isReady && (isHeld || (!bench.isOccupied && !isReading && !bench.isRunningOut)),
    share: hold.share ?? hold.reading ?? 0,
    note: holdNote(hold, bench.isRunningOut),
  };
}

function holdNote({share, throttle, alone, reading}: ScriptHold, isRunningOut: boolean): string {
  if (share !== undefined && alone !== undefined) return `motor ${alone + 1} alone: its reply must be its own`;
  if (share !== undefined) return `${(throttle * 100).toFixed(1)} % throttle`;
  if (reading !== undefined) return `reading the burst, ${wholePercent(reading)}: the motors have stopped, let go`;
  if (isRunningOut) return 'wait until every motor has stopped';
  return 'the motors stop when you let go, and by themselves at the end';
}

/** A run of before, as it is listed. */
interface ListedRun {
  readonly id: string;
  readonly craftId: string;
  readonly script: string;
  readonly at: number;
}

/** Runs of this craft that can be laid under the one that is shown; empty where there is none. */
export function earlierRuns(
  {craft}: Pick<JudgedCraft, 'craft'>,
  listed: readonly ListedRun[],
  shown: string | undefined,
): Choice<string>[] {
  const others = listed.filter(({id, craftId}) => id !== shown && craftId === craft.id);
  if (!others.length) return [];
  return [
    {label: 'none', value: ''},
    ...others.map(({id, script, at}) => ({label: `${script}, ${momentText(at)}`, value: id})),
  ];
}

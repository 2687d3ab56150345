/** The scripts that a bench offers, what can be chosen of each, and the cap they are held at. */
import * as z from 'zod';
import {aloneSeconds} from '../replies/each-alone';
import {
  cappedAt,
  cardScript,
  durationOf,
  lowOf,
  pulseTrain,
  rampScript,
  steady,
  stepsAndCuts,
  stress,
  sweep,
  type Script,
} from './script';

/** Throttle that no script on the bench goes beyond, 0…1, unless a person raises it for one session. */
export const benchCap = 0.3;
/** Caps that can be chosen in its place. */
export const raisedCaps = [0.4, 0.5, 0.6, 0.8, 1] as const;

export const scriptNames = [
  'motor card',
  'steps and cuts',
  'pulse train',
  'sweep',
  'stress',
  'steady',
  'ramp',
] as const;
export type ScriptName = (typeof scriptNames)[number];

/** What each is for. */
export const scriptPurposes: Readonly<Record<ScriptName, string>> = {
  'motor card': 'each motor alone, then two steps, a sweep and two cuts: all that the constants are fitted from',
  'steps and cuts': 'three steps up and three cuts, for the time constants',
  'pulse train': 'short pulses, for a motor that hesitates',
  sweep: 'slowly up and down, for speed over throttle',
  stress: 'ramps and steps in turn, for supply and joints',
  steady: 'one throttle for a while, for sound, heat and current',
  ramp: 'evenly from idle to the top, once',
};

/** What a person chose: kept with the craft. */
export const scriptChoiceSchema = z.object({
  name: z.enum(scriptNames),
  /** Highest throttle, 0…1. */
  top: z.number().min(0.06).max(1),
  /** Length of those whose length can be chosen, s. */
  seconds: z.number().min(1).max(60),
});
export type ScriptChoice = z.infer<typeof scriptChoiceSchema>;

export const usualChoice: ScriptChoice = {name: 'motor card', top: benchCap, seconds: 4};
/** Scripts whose length can be chosen. */
export const hasLength = (name: ScriptName): boolean => ['sweep', 'steady', 'ramp'].includes(name);

/** What is turned of a craft. */
export interface Turned {
  readonly choice: ScriptChoice;
  readonly outputs: readonly number[];
  /** Motors of the craft. */
  readonly motors: number;
}

/** Whether it can prove how the craft's motors turn: a card of every one of them. */
export const canProveMotion = ({choice, outputs, motors}: Turned): boolean =>
  choice.name === 'motor card' && outputs.length === motors;

/** Throttle at which each motor turns alone before a script that can prove something, 0…1. @param idle 0…1. */
export const aloneThrottle = (turned: Turned, idle: number): number | undefined =>
  canProveMotion(turned) ? lowOf(idle) : undefined;

/** About how long it is held, s. */
export const heldSeconds = (script: Script, turned: Turned): number =>
  durationOf(script) + (canProveMotion(turned) ? aloneSeconds(turned.motors) : 0);

/** A chosen script for motors that idle at `idle`, never above the cap, both 0…1. */
export function scriptOf({name, top: wanted, seconds}: ScriptChoice, idle: number, cap: number): Script {
  const top = Math.min(wanted, cap);
  const makers: Readonly<Record<ScriptName, () => Script>> = {
    'motor card': () => cardScript(idle, top),
    'steps and cuts': () => stepsAndCuts(idle, top, 3),
    'pulse train': () => pulseTrain(idle, top, 8),
    sweep: () => sweep(idle, top, seconds),
    stress: () => stress(idle, top, 3),
    steady: () => steady(seconds, top),
    ramp: () => rampScript(seconds, Math.max(0.05, idle), top),
  };
  return cappedAt(makers[name](), cap);
}

/** About how long a card of every motor is held, s. @param idle 0…1. */
export const cardSeconds = (motors: number, idle: number): number =>
  heldSeconds(scriptOf(usualChoice, idle, usualChoice.top), {
    choice: usualChoice,
    outputs: Array.from({length: motors}, (_, output) => output),
    motors,
  });

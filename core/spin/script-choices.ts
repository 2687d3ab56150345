/** The scripts that a bench offers, and the cap they are held at. */
import {cappedAt, cardScript, pulseTrain, stepsAndCuts, stress, sweep, type Script} from './script';

/** Throttle that no script on the bench goes beyond, 0…1. */
export const benchCap = 0.3;

export const scriptNames = ['motor card', 'steps and cuts', 'pulse train', 'sweep', 'stress'] as const;
export type ScriptName = (typeof scriptNames)[number];

/** What each is for. */
export const scriptPurposes: Readonly<Record<ScriptName, string>> = {
  'motor card': 'two steps, a sweep and two cuts: all that the constants are fitted from',
  'steps and cuts': 'three steps up and three cuts, for the time constants',
  'pulse train': 'short pulses, for a motor that hesitates',
  sweep: 'slowly up and down, for speed over throttle',
  stress: 'ramps and steps in turn, for supply and joints',
};

/** A script for motors that idle at `idle`, up to the cap, both 0…1. */
export function scriptNamed(name: ScriptName, idle: number, cap: number): Script {
  const makers: Readonly<Record<ScriptName, () => Script>> = {
    'motor card': () => cardScript(idle, cap),
    'steps and cuts': () => stepsAndCuts(idle, cap, 3),
    'pulse train': () => pulseTrain(idle, cap, 8),
    sweep: () => sweep(idle, cap, 4),
    stress: () => stress(idle, cap, 3),
  };
  return cappedAt(makers[name](), cap);
}

/** What a parameter does to one craft, as lines to draw and figures to read. */
import {valueIn, type Settings} from '../../settings/page';
import {definitionOf, type ParameterKey} from '../../settings/definitions';
import {inductanceTrust} from '../estimates';
import {followingPwmHz} from '../following-pwm';
import {hoverPoint, type Drive} from '../hover';
import type {CraftParts} from '../model';
import {pwmFollows} from '../../settings/parameters/special-values';

/** A point of a line; the bounds say how far the estimates may be off. */
export interface EffectPoint {
  readonly x: number;
  readonly y: number;
  readonly low: number;
  readonly high: number;
}

export interface EffectLine {
  readonly name: string;
  readonly points: readonly EffectPoint[];
}

interface Figure {
  readonly name: string;
  readonly text: string;
}

export interface Effect {
  readonly xName: string;
  readonly yName: string;
  readonly lines: readonly EffectLine[];
  /** Distance of the marks on the x axis, from its first point on. */
  readonly xStep: number;
  /** What a mark on the x axis reads, where it is not its number. */
  readonly xLabel?: (x: number) => string;
  /** Where a value stands on the x axis; modes without a number of their own stand where they work in a hover. */
  readonly xOf: (value: number) => number;
  /** What one value means, line by line; the same names in the same order for every value. */
  readonly figures: (value: number) => readonly Figure[];
  /** Formulas and where they come from. */
  readonly source: string;
}

export interface EffectQuestion {
  readonly craft: CraftParts;
  readonly deadTimeS: number;
  /** Planned values of the other parameters; what is not planned stands at its default. */
  readonly settings: Settings;
  /** PWM frequency built into the image, kHz, for families that do so. */
  readonly builtPwmKhz?: number | undefined;
}

export const valueOf = ({settings}: EffectQuestion, key: ParameterKey): number => valueIn(settings, key);

/** PWM frequency in Hz that a value gives in a hover; without one, what the image has built in or the plan says. */
export function hoverPwmHz(question: EffectQuestion, value = question.builtPwmKhz ?? valueOf(question, 'pwm')): number {
  const {craft, deadTimeS} = question;
  if (value !== pwmFollows) return value * 1000;
  return followingPwmHz(hoverPoint(craft, {pwmHz: 24_000, deadTimeS}).rpm, question.settings);
}

export const driveOf = (question: EffectQuestion): Drive => ({
  pwmHz: hoverPwmHz(question),
  deadTimeS: question.deadTimeS,
});

/** Factor that a value resting on the winding's inductance may be off: more when nobody measured it. */
export const inductanceFactor = ({motor}: CraftParts): number =>
  motor.estimated?.includes('inductanceH') ? inductanceTrust : 1.15;

/** What a choice reads; nothing between two of them. */
export const labelOf = (key: ParameterKey, x: number): string =>
  definitionOf(key).choices?.find((c) => c.value === x)?.label ?? '';

export const steps = (from: number, to: number, count: number): number[] =>
  Array.from({length: count + 1}, (_, i) => from + ((to - from) * i) / count);

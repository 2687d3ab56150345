/** Active braking and its strength against the time a motor takes to fall. */
import {coastDownS} from '../coast';
import {driveOf, steps, valueOf, labelOf, type Effect, type EffectPoint, type EffectQuestion} from './effect';

interface Braking {
  readonly activeBraking: boolean;
  readonly strength: number;
  readonly propeller: boolean;
}

const milliseconds = (question: EffectQuestion, braking: Braking): number =>
  1000 *
  coastDownS({
    craft: question.craft,
    drive: driveOf(question),
    limitAmps: valueOf(question, 'currentLimit'),
    ...braking,
  });
/** Inertia and drag are estimates good to half as much again. */
const point = (x: number, ms: number): EffectPoint => ({x, y: ms, low: ms / 1.5, high: ms * 1.5});
const source =
  'J·dω/dt = −K_T·I − friction − drag·ω², from hover speed to 37 % of it; braking shorts the winding, I = strength·ω·K_T/R.';
const yName = 'coast-down, ms';

export function brakeStrengthEffect(question: EffectQuestion): Effect {
  const activeBraking = valueOf(question, 'activeBraking') === 1;
  const at = (strength: number, propeller: boolean) => milliseconds(question, {activeBraking, strength, propeller});
  const line = (name: string, propeller: boolean) => ({
    name,
    points: steps(10, 100, 9).map((x) => point(x, at(x, propeller))),
  });
  return {
    xName: activeBraking ? 'brake strength, %' : 'brake strength, %; active braking is off',
    yName,
    lines: [line('in flight', true), line('on the bench, no propeller', false)],
    xStep: 30,
    xOf: (value) => value,
    figures: (value) => [
      {name: 'Coast-down in flight', text: `${at(value, true).toFixed(0)} ms`},
      {name: 'Coast-down on the bench', text: `${at(value, false).toFixed(0)} ms`},
    ],
    source,
  };
}

export function activeBrakingEffect(question: EffectQuestion): Effect {
  const strength = valueOf(question, 'brakeStrength');
  const at = (value: number, propeller: boolean) =>
    milliseconds(question, {activeBraking: value === 1, strength, propeller});
  const line = (name: string, propeller: boolean) => ({name, points: [0, 1].map((x) => point(x, at(x, propeller)))});
  return {
    xName: 'active braking',
    yName,
    lines: [line('in flight', true), line('on the bench, no propeller', false)],
    xStep: 1,
    xLabel: (x) => labelOf('activeBraking', x),
    xOf: (value) => value,
    figures: (value) => [
      {name: 'Coast-down in flight', text: `${at(value, true).toFixed(0)} ms`},
      {name: 'Coast-down on the bench', text: `${at(value, false).toFixed(0)} ms`},
      {name: 'At the planned strength of', text: `${strength} %`},
    ],
    source,
  };
}

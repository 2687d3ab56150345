/** Active braking and its strength against the time a motor takes to fall. */
import {coastDownS} from '../coast';
import {resistanceTrust} from '../estimates';
import {bellInertia, type CraftParts} from '../model';
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
/** Inertia and drag of the propeller are estimates good to half as much again; the bell alone is known as well as it is. */
function point(x: number, ms: number, {craft, propeller}: {craft: CraftParts; propeller: boolean}): EffectPoint {
  const factor = propeller ? 1.5 : bellInertia(craft).factor * (craft.motor.measured ? 1 : resistanceTrust);
  return {x, y: ms, low: ms / factor, high: ms * factor};
}
const sourceOf = ({craft}: EffectQuestion): string =>
  craft.motor.measured ? `${formula} Bell and friction as measured on this bench.` : formula;
const formula =
  'J·dω/dt = −K_T·I − friction − drag·ω², from hover speed to 37 % of it; braking shorts the winding, I = strength·ω·K_T/R.';
const yName = 'coast-down, ms';

export function brakeStrengthEffect(question: EffectQuestion): Effect {
  const activeBraking = valueOf(question, 'activeBraking') === 1;
  const at = (strength: number, propeller: boolean) => milliseconds(question, {activeBraking, strength, propeller});
  const line = (name: string, propeller: boolean) => ({
    name,
    points: steps(10, 100, 9).map((x) => point(x, at(x, propeller), {craft: question.craft, propeller})),
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
    source: sourceOf(question),
  };
}

export function activeBrakingEffect(question: EffectQuestion): Effect {
  const strength = valueOf(question, 'brakeStrength');
  const at = (value: number, propeller: boolean) =>
    milliseconds(question, {activeBraking: value === 1, strength, propeller});
  const line = (name: string, propeller: boolean) => ({
    name,
    points: [0, 1].map((x) => point(x, at(x, propeller), {craft: question.craft, propeller})),
  });
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
    source: sourceOf(question),
  };
}

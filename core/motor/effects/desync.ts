/** Timing advance and demag compensation against the margin on a hard throttle step. */
import {advanceOf, demagAngle, desyncMargin, idealAdvance, torqueShare, type StepQuestion} from '../desync';
import {
  driveOf,
  inductanceFactor,
  steps,
  valueOf,
  labelOf,
  type Effect,
  type EffectPoint,
  type EffectQuestion,
} from './effect';

const yName = 'margin, electrical °';
const source = 'A winding needs L·I/V to become free; its crossing comes 30° plus the advance after the commutation.';

const stepOf = (question: EffectQuestion, demag: number): StepQuestion => ({
  craft: question.craft,
  drive: driveOf(question),
  limitAmps: valueOf(question, 'currentLimit'),
  demag,
});

const plannedAdvance = (question: EffectQuestion): number =>
  advanceOf(valueOf(question, 'timing'), question.craft, driveOf(question));

/** Electrical degrees left on a hard throttle step with the planned values; below zero steps are lost. */
export const plannedMargin = (question: EffectQuestion): number =>
  desyncMargin(stepOf(question, valueOf(question, 'demag')), plannedAdvance(question));

export function timingEffect(question: EffectQuestion): Effect {
  const angle = demagAngle(stepOf(question, valueOf(question, 'demag')));
  const ideal = idealAdvance(question.craft, driveOf(question));
  const advanceAt = (value: number) => advanceOf(value, question.craft, driveOf(question));
  return {
    xName: 'timing advance, electrical °',
    yName,
    lines: [
      {name: 'margin on a hard throttle step', points: steps(0, 30, 10).map((x) => marginPoint(question, x, x, angle))},
    ],
    xStep: 7.5,
    xOf: advanceAt,
    figures: (value) => {
      const advance = advanceAt(value);
      return [
        {name: 'Advance in a hover', text: `${advance.toFixed(1)}°`},
        {name: 'Margin on a hard step', text: marginText(30 + advance - angle)},
        {name: 'Torque kept in a hover', text: `${(torqueShare(advance, ideal) * 100).toFixed(1)} %`},
        {name: 'Current and voltage in phase at', text: `${ideal.toFixed(1)}°`},
      ];
    },
    source,
  };
}

export function demagEffect(question: EffectQuestion): Effect {
  const advance = plannedAdvance(question);
  const angleOf = (demag: number) => demagAngle(stepOf(question, demag));
  return {
    xName: 'demag compensation',
    yName,
    lines: [
      {
        name: 'margin on a hard throttle step',
        points: [0, 1, 2].map((x) => marginPoint(question, x, advance, angleOf(x))),
      },
    ],
    xStep: 1,
    xLabel: (x) => labelOf('demag', x),
    xOf: (value) => value,
    figures: (value) => [
      {name: 'Margin on a hard step', text: marginText(30 + advance - angleOf(value))},
      {name: 'Winding free after', text: `${angleOf(value).toFixed(0)}° at worst`},
      {name: 'With the planned advance of', text: `${advance.toFixed(1)}°`},
    ],
    source,
  };
}

function marginPoint({craft}: EffectQuestion, x: number, advance: number, angle: number): EffectPoint {
  const factor = inductanceFactor(craft);
  const at = (degrees: number) => 30 + advance - degrees;
  return {x, y: at(angle), low: at(angle * factor), high: at(angle / factor)};
}

const marginText = (degrees: number) => (degrees > 0 ? `${degrees.toFixed(0)}°` : `none, ${degrees.toFixed(0)}°`);

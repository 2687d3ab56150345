/** How the planned value of a parameter is edited: as one of few, one of many, a number, cells for each motor, or not at all. */
import type {PlannedValue} from '../../craft/craft';
import type {ParameterDefinition} from '../../settings/definitions';
import type {Choice} from '../choice';
export {refusalOf} from '../../settings/definitions';

type EditorSheet =
  | {readonly kind: 'told'; readonly text: string; readonly note: string}
  | {readonly kind: 'cells'; readonly cells: readonly MotorCell[]}
  | {
      readonly kind: 'choices';
      readonly options: Choice<number>[];
      readonly isFew: boolean;
      readonly value: number | undefined;
    }
  | {readonly kind: 'number'};

/** A motor's own value, told by its first letter. */
interface MotorCell {
  readonly motor: number;
  readonly letter: string;
  readonly name: string;
  /** Other than the first choice. */
  readonly isOn: boolean;
}

/** So many choices stand beside each other; more are listed. */
const maxFew = 5;
/** So many choices can be told apart by their first letter: one cell per motor has room for it. */
const maxLettered = 3;
/** So many motors' values are told one by one; of more the least and the most. */
const maxTold = 4;

export function editorSheet(definition: ParameterDefinition, planned: PlannedValue | undefined): EditorSheet {
  const {choices} = definition;
  if (planned?.kind === 'calibrated') return {kind: 'told', text: 'calibrated', note: 'per ESC, kept'};
  if (planned?.kind === 'per motor') return ofMotors(definition, planned.values);
  const value = planned?.value;
  return choices ? {kind: 'choices', options: [...choices], isFew: choices.length <= maxFew, value} : {kind: 'number'};
}

function ofMotors(definition: ParameterDefinition, values: readonly number[]): EditorSheet {
  const {choices, name} = definition;
  const isLettered = choices !== undefined && choices.length <= maxLettered;
  if (isLettered)
    return {
      kind: 'cells',
      cells: values.map((value, i) => ({
        motor: i + 1,
        letter: labelOf(definition, value)[0]!.toUpperCase(),
        name: `${name}, motor ${i + 1}: ${labelOf(definition, value)}`,
        isOn: value !== choices[0]!.value,
      })),
    };
  const isMany = values.length > maxTold;
  const told = isMany ? [Math.min(...values), Math.max(...values)] : values;
  const text = told.map((v) => labelOf(definition, v)).join(isMany ? ' … ' : ' ');
  return {kind: 'told', text, note: 'per motor'};
}

const labelOf = ({choices}: ParameterDefinition, value: number): string =>
  choices?.find((c) => c.value === value)?.label ?? String(value);

/** The plan with one motor's value changed to the next of the usual choices. */
export function withNextChoice({choices}: ParameterDefinition, values: readonly number[], motor: number): PlannedValue {
  const usual = choices!.filter((c) => !c.rare).map((c) => c.value);
  const next = (v: number) => usual[(usual.indexOf(v) + 1) % usual.length]!;
  return {kind: 'per motor', values: values.map((v, i) => (i === motor ? next(v) : v))};
}

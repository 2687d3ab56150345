/** How values lie in a settings page: shorthand for the tables beside it. */
import type {Choice, ParameterDefinition, Storage} from '../parameter';

type More = Omit<Storage, 'offset' | 'width'>;

export const u8 = (offset: number, more: More = {}): Storage => ({offset, width: 1, ...more});
export const u16 = (offset: number, more: More = {}): Storage => ({offset, width: 2, ...more});
/** The same place in every layout of the 32-bit family. */
export const same = (storage: Storage) => ({5: storage, 6: storage, 8: storage});
/** The same place in every layout. */
export const everywhere = (storage: Storage) => ({2: storage, 3: storage, ...same(storage)});

export const offOn: readonly Choice[] = [
  {value: 0, label: 'off'},
  {value: 1, label: 'on'},
];

/** Choices by label; their value is their place, from 0. */
export const choicesOf = (labels: readonly string[]): readonly Choice[] =>
  labels.map((label, value) => ({value, label}));

/** Bounds, default and marks of a parameter that is chosen from a list. */
export function chosen(
  choices: readonly Choice[],
  byDefault: number,
): Pick<ParameterDefinition, 'unit' | 'min' | 'max' | 'step' | 'default' | 'choices' | 'ticks'> {
  const values = choices.map((c) => c.value);
  return {
    unit: '',
    min: Math.min(...values),
    max: Math.max(...values),
    step: 1,
    default: byDefault,
    choices,
    ticks: values,
  };
}

/** A starting plan for a class of craft, each value with its reason. */
import type {ParameterKey} from '../../settings/definitions';
import type {AirframeName} from '../airframes';
import type {Craft, PlannedValue} from '../craft';

export interface Preset {
  readonly id: string;
  readonly name: string;
  /** What it is for, in a sentence. */
  readonly about: string;
  readonly airframe: AirframeName;
  readonly diagonalMm: number;
  /** Everything of the craft but its name, place and arms. */
  readonly craft: Omit<Craft, 'id' | 'name' | 'arms'>;
  /** Why a parameter has its value; what is not named stands at its default. */
  readonly reasons: Readonly<Partial<Record<ParameterKey, string>>>;
}

export const same = (value: number): PlannedValue => ({kind: 'same', value});
export const calibrated: PlannedValue = {kind: 'calibrated'};
export const outputs = (motors: number) => Array.from({length: motors}, (_, i) => i);

/**
 * The planned filters along the way of the signal, from the gyro to the controller and its derivative: what a plan is silent
 * about is shown as the craft has it, what firmware lacks is told.
 */
import {fixedFilters, type FilterFields} from '../../controller/chain-of';
import {planOver, type ControllerPlan} from '../../controller/plan';
import {ranges, type Range} from '../../controller/ranges';
import type {FilterName} from '../../filters/delay-ledger';
import {lowPassKinds, lowPassName, type LowPassKind} from '../../filters/section';
import type {Choice} from '../choice';
import type {JudgedCraft} from '../craft-question';

type NumberName =
  | 'notchQ'
  | 'notchMinHz'
  | 'notchFadeHz'
  | 'speedLowPassHz'
  | 'movingNotches'
  | 'movingQ'
  | 'movingMinHz'
  | 'movingMaxHz'
  | 'gyroLowPassHz'
  | 'gyroLowPassFullHz'
  | 'dLowPassHz'
  | 'dLowPassFullHz';
type KindName = 'gyroLowPass' | 'dLowPass';

interface FilterForm {
  readonly harmonics: Choice<number>[];
  readonly notchHarmonics: number[];
  readonly poles: string;
  readonly stages: readonly FilterStage[];
  /** Some of it is not in the firmware that was found. */
  readonly isLacking: boolean;
}

/** One filter on the signal's way. */
interface FilterStage {
  readonly filter: FilterName;
  readonly title: string;
  /** What is changed often. */
  readonly often: readonly FilterField[];
  /** What the rest of it is about, and its fields. */
  readonly more: string;
  readonly kind: LowPassField | undefined;
  readonly fields: readonly FilterField[];
}

export interface LowPassField {
  readonly id: string;
  readonly field: KindName;
  readonly kinds: Choice<LowPassKind>[];
  readonly value: LowPassKind;
  readonly lacks: boolean;
}

export interface FilterField extends Range {
  readonly id: string;
  /** Field of the plan, or the multiple whose strength it is. */
  readonly edits: NumberName | {readonly order: number};
  readonly label: string;
  readonly value: number;
  /** Whether the firmware of the craft was found not to have it. */
  readonly lacks: boolean;
}

/** Multiples of motor speed that are offered, beside those that are planned. */
const usual = [1, 2, 3];

type Details = Required<Omit<FilterFields, 'replies'>>;

const detailsOf = ({craft, record}: JudgedCraft): Details => {
  const planned = planOver(craft.plan.controller, record.found?.controller?.config);
  return {...fixedFilters, notchWeights: [], movingMinHz: planned.notchMinHz, ...planned};
};

export function filterForm(q: JudgedCraft): FilterForm {
  const {notchHarmonics, poles} = q.craft.plan.controller;
  return {
    harmonics: ascending([...new Set([...usual, ...notchHarmonics])]).map((value) => ({label: `${value}×`, value})),
    ...{notchHarmonics: [...notchHarmonics], poles: `${poles} poles`, isLacking: lacks(q, 'notchFadeHz')},
    stages: stagesOf(q),
  };
}

function fieldsOf(q: JudgedCraft) {
  const values = detailsOf(q);
  return {
    field: (id: string, name: NumberName, label: string): FilterField => ({
      ...{...ranges[name], id, edits: name, label, value: values[name], lacks: lacks(q, name)},
    }),
    kind: (id: string, name: KindName): LowPassField => ({
      ...{id, field: name, value: values[name], lacks: lacks(q, name)},
      kinds: lowPassKinds.map((value) => ({label: lowPassName[value], value})),
    }),
    strength: (order: number): FilterField => ({
      ...{...ranges.notchWeight, id: `weight-${order}`, edits: {order}, label: `Strength of ${order}×`},
      ...{value: weightOf(values, order), lacks: lacks(q, 'notchWeights')},
    }),
  };
}

function stagesOf(q: JudgedCraft): FilterStage[] {
  const {field, kind, strength} = fieldsOf(q);
  return [
    {
      ...{filter: 'gyro low-pass', title: 'Gyro low-pass', often: [field('low', 'gyroLowPassHz', 'Cut-off')]},
      ...{more: 'Kind, and with throttle', kind: kind('low-kind', 'gyroLowPass')},
      fields: [field('low-full', 'gyroLowPassFullHz', atFull)],
    },
    {
      ...{filter: 'motor-speed notches', title: 'Motor-speed notches'},
      often: [field('q', 'notchQ', 'Width, Q'), field('min', 'notchMinHz', 'Lowest frequency')],
      ...{more: 'Strength, fade-in, smoothing', kind: undefined},
      fields: [
        ...q.craft.plan.controller.notchHarmonics.map(strength),
        field('fade', 'notchFadeHz', 'Fade-in above the lowest'),
        field('smooth', 'speedLowPassHz', 'Smoothing of speeds, 0 none'),
      ],
    },
    {
      ...{filter: 'moving notches', title: 'Moving notches', often: [field('moving', 'movingNotches', 'How many')]},
      ...{more: 'Width, and where they look', kind: undefined},
      fields: [
        field('moving-q', 'movingQ', 'Width, Q'),
        field('moving-min', 'movingMinHz', 'From'),
        field('moving-max', 'movingMaxHz', 'Up to'),
      ],
    },
    {
      ...{filter: 'D low-pass', title: 'Derivative: low-pass', often: [field('d-low-hz', 'dLowPassHz', 'Cut-off')]},
      ...{more: 'Kind, and with throttle', kind: kind('d-low-kind', 'dLowPass')},
      fields: [field('d-low-full', 'dLowPassFullHz', atFull)],
    },
  ];
}

const atFull = 'At full throttle, 0 fixed';

const weightOf = ({notchWeights}: Details, order: number): number => notchWeights[order - 1] ?? 100;

function lacks({record}: JudgedCraft, field: keyof FilterFields): boolean {
  const found = record.found?.controller?.config;
  return found !== undefined && found[field] === undefined;
}

/** What of the plan a number field changes. */
export function filterChange(q: JudgedCraft, {edits}: FilterField, value: number): Partial<ControllerPlan> {
  if (typeof edits === 'string') return {[edits]: value};
  const values = detailsOf(q);
  const orders = Array.from({length: Math.max(usual.length, values.notchWeights.length, edits.order)}, (_, i) => i + 1);
  return {notchWeights: orders.map((order) => (order === edits.order ? value : weightOf(values, order)))};
}

export const harmonicsChange = (list: readonly number[]): Partial<ControllerPlan> => ({
  notchHarmonics: ascending(list),
});

const ascending = (list: readonly number[]): number[] => [...list].sort((a, b) => a - b);

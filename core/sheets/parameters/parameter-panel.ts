/** Below an open line of Parameters: what it does to this craft, value by value, and which values could be planned. */
import {adoptValue} from '../../compare/adopt';
import {physicsOf, type PlannedEsc} from '../../compare/rules/rule';
import type {PlannedValue} from '../../craft/craft';
import type {Effect} from '../../motor/effects/effect';
import {effectOf} from '../../motor/effects/effect-of';
import {canModel} from '../../motor/model';
import {formatValue, refusalOf} from '../../settings/definitions';
import {motorList} from '../../words/motor-list';
import type {CraftQuestion} from '../craft-question';
import type {ParameterRow} from './parameters';

/** A column of figures: a value that is planned or found, and on which motors, or one that could be chosen. */
interface ValueColumn {
  readonly value: number;
  /** As it reads, with its unit. */
  readonly shown: string;
  readonly title: string;
  readonly role: 'found' | 'plan' | 'other';
}

interface ParameterPanel {
  /** Values found on some motors only: each could be planned for all. */
  readonly candidates: readonly {readonly motor: number; readonly text: string}[];
  readonly canAdopt: boolean;
  /** Values that somebody else chose: the firmware's default, and what the maker of the board leaves it at. */
  readonly defaults: readonly {readonly value: number; readonly text: string}[];
  /** Undefined where no formula says what it does. */
  readonly effect: Effect | undefined;
  readonly columns: readonly ValueColumn[];
  /** What it does to this craft, line by line, a text for each column. */
  readonly figures: readonly {readonly name: string; readonly texts: readonly string[]}[];
  /** Distinct values, for the marks of the chart. */
  readonly found: readonly number[];
  readonly planned: readonly number[];
  readonly chartLabel: string;
  /** The stator size of the craft where it does not read: without it nothing is computed. */
  readonly unreadSize: string | undefined;
}

/** Choices up to this number each have a column. */
const maxColumns = 4;

/** @param esc an ESC as the plan wants it; undefined where none is known. */
export function parameterPanel(row: ParameterRow, q: CraftQuestion, esc: PlannedEsc | undefined): ParameterPanel {
  const {craft, record} = q;
  const {definition, values} = row;
  const physics = esc && physicsOf(craft, esc);
  const effect = physics && effectOf(definition.key, physics);
  const columns = columnsOf(row);
  const adopted = record.found && adoptValue(record.found, definition.key, values.length);
  const told = columns.filter((c) => c.role !== 'other').map((c) => `${c.title}: ${c.shown}`);
  return {
    ...{effect, columns, candidates: candidates(row), found: distinct(values), planned: distinct(row.wanted)},
    canAdopt: !row.unavailable && adopted !== undefined,
    defaults: defaultsOf(row, q.board),
    figures: effect ? figuresOf(effect, columns) : [],
    chartLabel: effect ? `${effect.yName} over ${effect.xName}; ${told.join('; ')}` : '',
    unreadSize: canModel(craft) ? undefined : craft.motor.size,
  };
}

/** The value that some motors share in the plan; undefined where they do not. */
export function sharedValue({wanted}: ParameterRow, motors: readonly number[]): PlannedValue | undefined {
  const [first, ...others] = motors.map((m) => wanted[m]);
  return first !== undefined && others.every((v) => v === first) ? {kind: 'same', value: first} : undefined;
}

/** None for what differs from motor to motor by its nature. */
function defaultsOf({definition}: ParameterRow, board: CraftQuestion['board']): ParameterPanel['defaults'] {
  if (definition.perMotor) return [];
  const byMaker = board?.defaults?.[definition.key];
  const usual = {value: definition.default, text: `Default, ${formatValue(definition, definition.default)}`};
  if (!board || byMaker === undefined || refusalOf(definition, byMaker)) return [usual];
  const text = `${board.name} as made, ${formatValue(definition, byMaker)}`;
  return byMaker === definition.default
    ? [{...usual, text: `${usual.text}, also of ${board.name}`}]
    : [usual, {value: byMaker, text}];
}

function candidates({definition, values}: ParameterRow): ParameterPanel['candidates'] {
  const all = distinct(values);
  if (all.length < 2) return [];
  return all.map((value) => {
    const motors = motorsWith(values, value);
    return {
      motor: motors[0]!,
      text: `${formatValue(definition, value)} of ${motorList(motors, values.length)} for all`,
    };
  });
}

function columnsOf(row: ParameterRow): ValueColumn[] {
  const {definition, values, wanted} = row;
  const on = (list: readonly (number | undefined)[], value: number) => motorList(motorsWith(list, value), list.length);
  const isAsPlanned = (value: number) => wanted.includes(value) && on(values, value) === on(wanted, value);
  const column = (value: number, title: string, role: ValueColumn['role']): ValueColumn => ({
    ...{value, title, role, shown: formatValue(definition, value)},
  });
  const found = distinct(values).filter((value) => !isAsPlanned(value));
  return [
    ...found.map((value) => column(value, `found, ${on(values, value)}`, 'found')),
    ...distinct(wanted).map((value) =>
      column(value, `${isAsPlanned(value) ? 'found and planned' : 'planned'}, ${on(wanted, value)}`, 'plan'),
    ),
    ...otherChoices(row).map((value) => column(value, 'could be chosen', 'other')),
  ];
}

/** The other choices, where there are few; of an image that has the value built in, only those that are builds. */
function otherChoices({definition, values, wanted, unavailable}: ParameterRow): number[] {
  const open = (definition.choices ?? []).filter((c) => !c.rare && (!unavailable || c.value > 0)).map((c) => c.value);
  return open.length <= maxColumns ? open.filter((value) => !values.includes(value) && !wanted.includes(value)) : [];
}

function figuresOf(effect: Effect, columns: readonly ValueColumn[]): ParameterPanel['figures'] {
  const all = columns.map((c) => effect.figures(c.value));
  return (all[0] ?? []).map(({name}, line) => ({name, texts: all.map((figures) => figures[line]!.text)}));
}

const motorsWith = (list: readonly (number | undefined)[], value: number): number[] =>
  list.flatMap((v, i) => (v === value ? [i] : []));

const distinct = (values: readonly (number | undefined)[]): number[] => [
  ...new Set(values.filter((v) => v !== undefined)),
];

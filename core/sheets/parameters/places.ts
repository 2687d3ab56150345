/**
 * A table of things that have a place on a screen of columns and rows, as a map: the rows of any setting whose columns hold
 * an `x`, a `y` and a name. What the firmware calls a place is columns from the left and rows from the top.
 */
import type {SettingKind, SettingScalar, SettingValue} from '../../link/setting-shapes';

export interface PlacesMap {
  readonly columns: number;
  readonly rows: number;
  /** In the order of the table. */
  readonly marks: readonly PlaceMark[];
  /** Names that are written over each other; empty where none are. */
  readonly overlaps: string;
}

export interface PlaceMark {
  readonly row: number;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly isShown: boolean;
  /** Another one stands on it. */
  readonly isCovered: boolean;
  /** "battery, column 3 of 60, row 5 of 22, shown". */
  readonly spoken: string;
}

/** Letters that a name has on the map; the firmware decides how long what it shows is. */
export const mapLetters = 8;

type TableKind = Extract<SettingKind, {of: 'table'}>;
type Row = Readonly<Record<string, SettingScalar>>;

interface Axes {
  readonly x: {readonly min: number; readonly max: number};
  readonly y: {readonly min: number; readonly max: number};
  /** Column that names the thing, and the one that says whether it is shown. */
  readonly name: string;
  readonly shown: string | undefined;
}

function axesOf(kind: SettingKind): Axes | undefined {
  if (kind.of !== 'table') return undefined;
  const [x, y] = ['x', 'y'].map((name) => columnOf(kind, name));
  const name = kind.columns.find((c) => c.kind.of === 'text')?.name;
  if (x?.of !== 'number' || y?.of !== 'number' || name === undefined) return undefined;
  return {x, y, name, shown: kind.columns.find((c) => c.kind.of === 'truth')?.name};
}

const columnOf = ({columns}: TableKind, name: string) => columns.find((c) => c.name === name)?.kind;
const rowsOf = (value: SettingValue): readonly Row[] =>
  Array.isArray(value) ? value.filter((row): row is Row => typeof row === 'object') : [];

/** Undefined for a setting that is no table of places. */
export function placesOf(kind: SettingKind, value: SettingValue): PlacesMap | undefined {
  const axes = axesOf(kind);
  if (!axes) return undefined;
  const [columns, rows] = [axes.x.max - axes.x.min + 1, axes.y.max - axes.y.min + 1];
  const things = rowsOf(value).map((thing, row) => ({
    ...{row, name: String(thing[axes.name]), isShown: axes.shown === undefined || thing[axes.shown] === true},
    ...{x: Number(thing['x']) - axes.x.min, y: Number(thing['y']) - axes.y.min},
  }));
  const covers = (a: (typeof things)[number], b: (typeof things)[number]) =>
    a !== b && a.isShown && b.isShown && a.y === b.y && Math.abs(a.x - b.x) < shortest(b.x < a.x ? b.name : a.name);
  const marks = things.map((thing): PlaceMark => ({
    ...{...thing, isCovered: things.some((other) => covers(thing, other))},
    spoken: `${thing.name}, column ${thing.x + 1} of ${columns}, row ${thing.y + 1} of ${rows}${thing.isShown ? '' : ', not shown'}`,
  }));
  const covered = marks.filter((m) => m.isCovered).map((m) => m.name);
  return {columns, rows, marks, overlaps: covered.join(', ')};
}

/** Fewest columns that what a thing shows takes: its name is no measure of it, so no more than a sign and a number. */
const shortest = (name: string): number => Math.min(3, name.length);

/** The table with one thing at another place, in columns and rows from 0; kept on the screen. */
export function withPlace(
  kind: SettingKind,
  value: SettingValue,
  {row, x, y}: {readonly row: number; readonly x: number; readonly y: number},
): SettingValue {
  const axes = axesOf(kind);
  if (!axes) return value;
  const within = ({min, max}: Axes['x'], at: number) => Math.min(max, Math.max(min, Math.round(at) + min));
  return rowsOf(value).map((thing, i) => (i === row ? {...thing, x: within(axes.x, x), y: within(axes.y, y)} : thing));
}

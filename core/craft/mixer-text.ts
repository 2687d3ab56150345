/** A mixer as text: CSV (RFC 4180), a line of names, then one line per arm. */
import Papa from 'papaparse';
import type {Arm} from './craft';
import {mixerAxes, type Mixer, type MixerRow} from './mixer';

export const mixerCsv = ({rows}: Mixer, arms: readonly Arm[]): string =>
  Papa.unparse(
    {
      fields: ['arm', ...mixerAxes],
      data: rows.map((row, m) => [arms[m]!.name, ...mixerAxes.map((axis) => row[axis].toFixed(4))]),
    },
    {newline: '\n'},
  ) + '\n';

/** Rows in the order of the arms, or why the text holds none, with its place. */
export type ReadMixer = {readonly rows: readonly MixerRow[]} | {readonly why: string};

/** No mixer asks more of a motor than this; no text of one is longer. */
const [mostShare, mostLetters] = [4, 10_000];

/**
 * @param text rows of arm, throttle, roll, pitch and yaw. A row of names, empty rows and those that begin with # are passed
 *   over. Arms are found by their names, and taken in their order where no row has one.
 */
export function readMixer(text: string, arms: readonly Arm[]): ReadMixer {
  if (text.length > mostLetters) return {why: `It is longer than ${mostLetters} letters.`};
  const {data} = Papa.parse<string[]>(text.trim(), {skipEmptyLines: 'greedy', comments: '#'});
  const own = data.filter((cells) => !isHead(cells));
  if (own.length !== arms.length) return {why: `It has ${own.length} rows, and the craft has ${arms.length} arms.`};
  const rows: NamedRow[] = [];
  for (const [i, cells] of own.entries()) {
    const row = readRow(cells);
    if (typeof row === 'string') return {why: `Row ${i + 1}: ${row}`};
    rows.push(row);
  }
  return inOrder(rows, arms);
}

interface NamedRow {
  /** Empty where it has none. */
  readonly name: string;
  readonly row: MixerRow;
}

const isHead = (cells: readonly string[]): boolean =>
  cells
    .slice(-mixerAxes.length)
    .map((cell) => cell.trim().toLowerCase())
    .join() === mixerAxes.join();

function readRow(cells: readonly string[]): NamedRow | string {
  const shares = cells.slice(-mixerAxes.length).map((cell) => (cell.trim() ? Number(cell.replace('−', '-')) : NaN));
  const names = cells.length - mixerAxes.length;
  if ((names !== 0 && names !== 1) || shares.some((s) => !Number.isFinite(s)))
    return 'expected an arm and four numbers, for throttle, roll, pitch and yaw.';
  const far = shares.find((s) => Math.abs(s) > mostShare);
  if (far !== undefined) return `${far} is not from −${mostShare} to ${mostShare}.`;
  const [throttle, roll, pitch, yaw] = shares as [number, number, number, number];
  return {name: names ? cells[0]!.trim() : '', row: {throttle, roll, pitch, yaw}};
}

function inOrder(rows: readonly NamedRow[], arms: readonly Arm[]): ReadMixer {
  if (rows.every(({name}) => name === '')) return {rows: rows.map(({row}) => row)};
  const isOf = (arm: Arm) => (named: NamedRow) => named.name.toLowerCase() === arm.name.trim().toLowerCase();
  const wrong = arms.find((arm) => rows.filter(isOf(arm)).length !== 1);
  if (wrong) return {why: `The arm “${wrong.name}” has ${rows.some(isOf(wrong)) ? 'more than one row' : 'no row'}.`};
  return {rows: arms.map((arm) => rows.find(isOf(arm))!.row)};
}

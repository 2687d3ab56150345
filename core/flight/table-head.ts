/**
 * The head of a table of numbers: notes, header, what parts its cells, and a few rows to guess from. Notes are lines that
 * start with # and lines before the header that are no table. A table without a header gets names by number.
 */
import {failure, success, type Result} from '../problem';

export interface TableHead {
  /** Lines before the header, without their mark. */
  readonly notes: readonly string[];
  /** As the header has them. */
  readonly names: readonly string[];
  readonly separator: ',' | ';' | '\t' | ' ';
  /** A comma marks decimals: only where cells are parted by something else. */
  readonly decimalComma: boolean;
  /** Bytes before the first row, and the line of the file it stands on, counted from 1. */
  readonly bytes: number;
  readonly firstLine: number;
  /** The first rows as numbers, column by column; NaN where a cell is none. */
  readonly sample: readonly Float64Array[];
}

/** Bytes of a file that are enough to know its head. */
export const headBytes = 1 << 18;
const maxNotes = 200;
const separators = ['\t', ';', ',', ' '] as const;
const number = /^[+-]?(\d+[.]?\d*|[.]\d+)(e[+-]?\d+)?$/i;

const wrong = (place: string, meaning: string) =>
  failure({
    code: 'flight-log',
    place,
    meaning,
    remedy: 'Open a table of numbers: one row for each moment, cells parted by comma, semicolon or tab.',
  });

/** @param bytes the first {@link headBytes} of the file, or all of it. */
export function readHead(bytes: Uint8Array): Result<TableHead> {
  const text = new TextDecoder().decode(bytes.subarray(0, headBytes));
  const lines = text.split('\n');
  // The last line of a part of a file is cut.
  if (bytes.length >= headBytes) lines.pop();
  const at = lines.findIndex((line, i) => isTableStart(line, lines.slice(i + 1)));
  if (at < 0 || at > maxNotes)
    return wrong('line 1', text.trim() ? 'No row of numbers follows a header here.' : 'The file is empty.');
  const start = lines[at]!;
  const {separator, decimalComma} = cellsOf(start, lines.slice(at + 1))!;
  const cells = split(start, separator);
  const hasHeader = !cells.every((cell) => isNumber(cell, decimalComma));
  const names = cells.map((cell, i) => (hasHeader && cell ? cell : `column ${i + 1}`));
  const first = at + (hasHeader ? 1 : 0);
  const rows = lines.slice(first).filter((line) => line.trim() !== '');
  const encoder = new TextEncoder();
  return success({
    notes: lines
      .slice(0, at)
      .map((line) => line.replace(/^\s*#+/, '').trim())
      .filter(Boolean),
    names,
    separator,
    decimalComma,
    bytes: lines.slice(0, first).reduce((sum, line) => sum + encoder.encode(line).length + 1, 0),
    firstLine: first + 1,
    sample: sampleOf(rows, names.length, {separator, decimalComma}),
  });
}

function sampleOf(
  rows: readonly string[],
  width: number,
  {separator, decimalComma}: Pick<TableHead, 'separator' | 'decimalComma'>,
): Float64Array[] {
  const columns = Array.from({length: width}, () => new Float64Array(rows.length).fill(NaN));
  rows.forEach((row, r) =>
    split(row, separator).forEach((cell, c) => {
      if (c < width && isNumber(cell, decimalComma)) columns[c]![r] = Number(plain(cell, decimalComma));
    }),
  );
  return columns;
}

const split = (line: string, separator: string): string[] =>
  (separator === ' ' ? line.trim().split(/ +/) : line.split(separator)).map((cell) =>
    cell
      .trim()
      .replace(/^"(.*)"$/, '$1')
      .trim(),
  );
const plain = (cell: string, decimalComma: boolean) => (decimalComma ? cell.replace(',', '.') : cell);
const isNumber = (cell: string, decimalComma: boolean) => number.test(plain(cell, decimalComma));

/** A row from which a table starts: a header above numbers, or numbers above numbers. Four columns are time and three axes. */
function isTableStart(line: string, after: readonly string[]): boolean {
  if (/^\s*#/.test(line) || line.trim() === '') return false;
  return cellsOf(line, after) !== undefined;
}

function cellsOf(line: string, after: readonly string[]): Pick<TableHead, 'separator' | 'decimalComma'> | undefined {
  const next = after.filter((l) => l.trim() !== '').slice(0, 5);
  for (const separator of separators) {
    const width = split(line, separator).length;
    if (width < 4) continue;
    // A comma is a decimal mark where that makes more cells numbers.
    const [plainly, withComma] = [false, true].map((comma) => numbersIn(next, {separator, width, decimalComma: comma}));
    const decimalComma = separator !== ',' && withComma!.cells > plainly!.cells;
    const {rows} = decimalComma ? withComma! : plainly!;
    if (rows && rows * 2 >= next.length) return {separator, decimalComma};
  }
  return undefined;
}

/** Rows that look like rows of numbers, and the cells of all that are numbers. */
function numbersIn(
  lines: readonly string[],
  {separator, width, decimalComma}: Pick<TableHead, 'separator' | 'decimalComma'> & {readonly width: number},
): {rows: number; cells: number} {
  let rows = 0;
  let all = 0;
  for (const line of lines) {
    const cells = split(line, separator);
    const numbers = cells.filter((c) => isNumber(c, decimalComma)).length;
    all += numbers;
    if (cells.length >= width - 1 && numbers >= 0.6 * width) rows++;
  }
  return {rows, cells: all};
}

/**
 * Reads columns of numbers out of a table that comes in pieces, byte by byte, without making text of it. A row with a cell
 * that is no number is left out and counted; the first of them are kept with their place.
 * Memory: 4 bytes a value (8 for time), at most twice while a column grows.
 */

import {joined} from './joined';

interface ScanOptions {
  /** Columns to read, ascending; the first column is 0. */
  readonly columns: readonly number[];
  /** Kept in 64 bits: microseconds of ten minutes do not fit into 24. */
  readonly exact: number;
  readonly separator: ',' | ';' | '\t' | ' ';
  readonly decimalComma: boolean;
  /** Line of the file the first row stands on. */
  readonly firstLine: number;
  /** Rows to expect; more are taken all the same. */
  readonly expectedRows?: number;
}

export interface BadCell {
  readonly line: number;
  /** Column, counted from 0. */
  readonly column: number;
  /** What stands there, shortened; empty where the row ends before it. */
  readonly text: string;
}

/** Places of bad cells that are kept; the rest is counted only. */
const maxPlaces = 100;
/** Longest piece of a cell that is kept, characters. */
const shown = 30;
const newline = 10;

export class NumberScanner {
  private readonly values: (Float32Array | Float64Array)[];
  private lines: Int32Array;
  private readonly row: Float64Array;
  private readonly separator: number;
  private readonly point: number;
  private rest = new Uint8Array(0);
  private line: number;
  private readPos = 0;
  rows = 0;
  badRows = 0;
  readonly badCells: BadCell[] = [];

  constructor(private readonly options: ScanOptions) {
    const room = Math.max(1024, Math.ceil(options.expectedRows ?? 1 << 14));
    this.values = options.columns.map((c) => (c === options.exact ? new Float64Array(room) : new Float32Array(room)));
    this.lines = new Int32Array(room);
    this.row = new Float64Array(options.columns.length);
    this.separator = options.separator.charCodeAt(0);
    this.point = options.decimalComma ? 44 : 46;
    this.line = options.firstLine;
  }

  /** Takes the next bytes of the file. `chunk` may be used again afterwards. */
  feed(chunk: Uint8Array): void {
    const first = chunk.indexOf(newline);
    if (first < 0) return void (this.rest = joined(this.rest, chunk));
    let from = 0;
    if (this.rest.length) {
      const whole = joined(this.rest, chunk.subarray(0, first + 1));
      this.rest = new Uint8Array(0);
      this.readLines(whole, 0, whole.length);
      from = first + 1;
    }
    const last = chunk.lastIndexOf(newline) + 1;
    this.readLines(chunk, from, last);
    this.rest = chunk.slice(last);
  }

  /** Reads a last line that no newline ends, and hands the columns out: views that are the caller's from here on. */
  finish(): {columns: (Float32Array | Float64Array)[]; lines: Int32Array} {
    if (this.rest.length) {
      const whole = joined(this.rest, Uint8Array.of(newline));
      this.rest = new Uint8Array(0);
      this.readLines(whole, 0, whole.length);
    }
    return {columns: this.values.map((c) => c.subarray(0, this.rows)), lines: this.lines.subarray(0, this.rows)};
  }

  /** Lines of `bytes` from `from` up to `end`, which lies behind a newline. */
  private readLines(bytes: Uint8Array, from: number, end: number): void {
    const {columns} = this.options;
    const count = columns.length;
    const separator = this.separator;
    let pos = from;
    while (pos < end) {
      // A line of nothing, or of a carriage return only.
      const start = bytes[pos]!;
      if (start === newline || (start === 13 && bytes[pos + 1] === newline)) {
        pos += start === newline ? 1 : 2;
        this.line++;
        continue;
      }
      let column = 0;
      let bad = start === 35;
      for (let c = 0; c < count && !bad; c++) {
        const wanted = columns[c]!;
        while (column < wanted) {
          const byte = bytes[pos]!;
          if (byte === newline) break;
          pos++;
          if (byte === separator) column++;
        }
        const value = column === wanted ? this.number(bytes, pos) : NaN;
        if (value !== value) {
          this.tellBad(bytes, column === wanted ? pos : -1, wanted);
          bad = true;
        } else {
          this.row[c] = value;
          pos = this.readPos;
        }
      }
      if (!bad) this.keepRow();
      pos = bytes.indexOf(newline, pos) + 1;
      this.line++;
    }
  }

  private keepRow(): void {
    if (this.rows === this.lines.length) this.grow();
    for (let c = 0; c < this.row.length; c++) this.values[c]![this.rows] = this.row[c]!;
    this.lines[this.rows++] = this.line;
  }

  private grow(): void {
    const room = 2 * this.lines.length;
    this.values.forEach((old, c) => {
      const larger = old instanceof Float64Array ? new Float64Array(room) : new Float32Array(room);
      larger.set(old);
      this.values[c] = larger;
    });
    const lines = new Int32Array(room);
    lines.set(this.lines);
    this.lines = lines;
  }

  private tellBad(bytes: Uint8Array, pos: number, column: number): void {
    this.badRows++;
    if (this.badCells.length >= maxPlaces) return;
    let end = pos;
    while (pos >= 0 && end < bytes.length && bytes[end] !== newline && bytes[end] !== this.separator) end++;
    const cell = pos < 0 ? '' : new TextDecoder().decode(bytes.subarray(pos, end)).trim();
    this.badCells.push({line: this.line, column, text: cell.length > shown ? `${cell.slice(0, shown)}…` : cell});
  }

  /**
   * The number that starts at `pos`, and in `readPos` the place behind its cell; NaN where there is none. Up to 15 digits
   * are read exactly: mantissa and power of ten are whole numbers that a double holds, and one division rounds once.
   */
  private number(bytes: Uint8Array, pos: number): number {
    let at = pos;
    let byte = bytes[at]!;
    while (byte === 32 || byte === 34) byte = bytes[++at]!;
    const negative = byte === 45;
    if (negative || byte === 43) byte = bytes[++at]!;
    let mantissa = 0;
    let digits = 0;
    while (byte >= 48 && byte <= 57) {
      mantissa = mantissa * 10 + byte - 48;
      digits++;
      byte = bytes[++at]!;
    }
    let behind = 0;
    if (byte === this.point) {
      byte = bytes[++at]!;
      while (byte >= 48 && byte <= 57) {
        mantissa = mantissa * 10 + byte - 48;
        behind++;
        byte = bytes[++at]!;
      }
    }
    if (digits + behind === 0) return NaN;
    if (byte === 101 || byte === 69 || digits + behind > 15) return this.slowNumber(bytes, pos);
    while (byte === 32 || byte === 34) {
      if (this.separator === 32 && byte === 32) break;
      byte = bytes[++at]!;
    }
    if (byte !== this.separator && byte !== newline && byte !== 13) return NaN;
    this.readPos = at;
    const value = behind ? mantissa / powers[behind]! : mantissa;
    return negative ? -value : value;
  }

  /** Numbers with an exponent or more digits than a double holds: by the language. */
  private slowNumber(bytes: Uint8Array, pos: number): number {
    let end = pos;
    while (bytes[end] !== this.separator && bytes[end] !== newline) end++;
    let text = '';
    for (let i = pos; i < end; i++) text += String.fromCharCode(bytes[i]!);
    text = text
      .trim()
      .replace(/^"(.*)"$/, '$1')
      .trim();
    if (this.point === 44) text = text.replace(',', '.');
    this.readPos = end;
    const value = /^[+-]?[\d.]+(e[+-]?\d+)?$/i.test(text) ? Number(text) : NaN;
    return Number.isFinite(value) ? value : NaN;
  }
}

const powers = Array.from({length: 16}, (_, i) => 10 ** i);

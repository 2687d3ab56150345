/**
 * Edge lists and samples as CSV: a column of times, then one of levels for each wire. A row is a sample or a change; both say
 * what the levels are from then on. Comma, semicolon or tab; times in s, or in the unit that the header names.
 */
import type {Capture, CaptureReader} from './capture';
import {FaultList} from './fault-list';
import {maxWires, WireBuilder, type Value} from './wire-list';

const units: Readonly<Record<string, number>> = {s: 1, ms: 1e-3, us: 1e-6, µs: 1e-6, ns: 1e-9, ps: 1e-12};
const longestLine = 100_000;

export class CsvEdgesReader implements CaptureReader {
  private readonly decoder = new TextDecoder();
  private rest = '';
  private line = 0;
  private separator = ',';
  private scale = 1;
  private wires: WireBuilder[] | undefined;
  private time = -Infinity;
  private from: number | undefined;
  private readonly found = new FaultList();

  push(bytes: Uint8Array): void {
    const lines = (this.rest + this.decoder.decode(bytes, {stream: true})).split('\n');
    this.rest = lines.pop()!;
    if (this.rest.length > longestLine) {
      this.fault(`A line has more than ${longestLine} characters.`);
      this.rest = '';
    }
    for (const line of lines) this.row(line);
  }

  end(): Capture {
    if (this.rest) this.row(this.rest);
    this.rest = '';
    if (!this.wires) this.fault('No row has a time and a level.');
    const [from, to] = [this.from ?? 0, Math.max(this.from ?? 0, this.time)];
    const wires = (this.wires ?? []).map((w) => w.end(to));
    const {faults, faultCount} = this.found;
    return {wires, from, to, faults, faultCount};
  }

  private row(raw: string): void {
    this.line++;
    const line = raw.endsWith('\r') ? raw.slice(0, -1) : raw;
    if (!line.trim() || line.startsWith('#') || line.startsWith('//')) return;
    if (!this.wires) return this.firstRow(line);
    this.levels(line.split(this.separator));
  }

  /** The header, or in a file without one the first row itself. */
  private firstRow(line: string): void {
    this.separator = [';', '\t', ','].find((s) => line.includes(s)) ?? ',';
    const cells = line.split(this.separator).map(unquoted);
    if (cells.length < 2) return this.fault('A row has one column; a time and a level are due.');
    if (cells.length > maxWires + 1)
      return this.fault(`A row has ${cells.length} columns; at most ${maxWires} wires are read.`);
    const isHeader = cells.some((c) => c !== '' && levelOf(c) === null && !Number.isFinite(Number(c)));
    const names = cells.slice(1).map((name, i) => (isHeader && name ? name : `wire ${i + 1}`));
    this.wires = names.map((name) => new WireBuilder(name));
    if (!isHeader) return this.levels(line.split(this.separator));
    const unit = /[[(_ ](s|ms|us|µs|ns|ps)[\])]?$/i.exec(cells[0]!)?.[1]?.toLowerCase();
    this.scale = unit === undefined ? 1 : units[unit]!;
  }

  private levels(cells: readonly string[]): void {
    const wires = this.wires!;
    const told = unquoted(cells[0]!);
    const time = Number(told.replace(',', '.')) * this.scale;
    if (told === '' || !Number.isFinite(time)) return this.fault(`"${told.slice(0, 40)}" is not a time.`);
    if (cells.length !== wires.length + 1) return this.fault(`${cells.length} columns; ${wires.length + 1} are due.`);
    if (time < this.time) return this.fault(`Time goes back to ${told}: the row is skipped.`);
    this.time = time;
    this.from ??= time;
    wires.forEach((wire, i) => {
      const cell = unquoted(cells[i + 1]!);
      const level = levelOf(cell);
      if (level === null) this.fault(`"${cell.slice(0, 40)}" is not a level: 0, 1, x or z.`);
      else if (cell !== '') wire.set(level, time);
    });
  }

  private fault(meaning: string): void {
    this.found.add(Math.max(1, this.line), meaning);
  }
}

/** null for what is no level; an empty cell says nothing. */
function levelOf(cell: string): Value | null {
  if (cell === '0' || cell === '0.0' || /^(low|false|l)$/i.test(cell)) return 0;
  if (cell === '1' || cell === '1.0' || /^(high|true|h)$/i.test(cell)) return 1;
  return cell === '' || /^[xzu-]$/i.test(cell) ? undefined : null;
}

function unquoted(cell: string): string {
  const trimmed = cell.trim();
  return trimmed.startsWith('"') && trimmed.endsWith('"') && trimmed.length > 1 ? trimmed.slice(1, -1).trim() : trimmed;
}

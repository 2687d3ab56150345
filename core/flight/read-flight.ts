/** Reads a flight log from the bytes of a table of numbers: in pieces, with progress, and to be cancelled between two. */
import {failure, success, type Problem, type Result} from '../problem';
import {secondsIn, type UnitQuestion} from './guess-units';
import {guessColumns, type Guess} from './guess-columns';
import type {FlightLog, LoggedSpeeds} from './flight-log';
import {findDamage} from './damage';
import {joined} from './joined';
import {axes, columnsOf, withUnits, type Axis, type Mapping, type UnitOf} from './mapping';
import {NumberScanner} from './number-scanner';
import {headBytes, readHead, type TableHead} from './table-head';
import {readTimeBase, type TimeBase} from './time-base';

interface ReadOptions {
  /** What each column holds; guessed where it is not given. */
  readonly mapping?: Mapping | undefined;
  /** Units that a person said, where the columns are guessed. */
  readonly units?: Partial<Record<UnitOf, string>> | undefined;
  /** Bytes of the whole file, for progress and to make room. */
  readonly sizeBytes?: number;
  /** Gets the share done, 0…1; false from it cancels. */
  readonly onProgress?: (share: number) => boolean;
}

/** A table whose columns say too little: what it holds, so that a person can say the rest. */
export interface UnmappedTable {
  readonly head: TableHead;
  readonly guess: Guess;
}

type FlightReading = Result<FlightLog, Problem & {readonly unmapped?: UnmappedTable}>;

/** @param pieces the file's bytes in order; a piece may be used again by its source once the next is asked for. */
export async function readFlight(
  pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  options: ReadOptions = {},
): Promise<FlightReading> {
  let reader: FlightReader | undefined;
  let begin: Uint8Array = new Uint8Array(0);
  let done = 0;
  for await (const piece of pieces) {
    if (reader) reader.feed(piece);
    else {
      begin = joined(begin, piece);
      if (begin.length < headBytes) continue;
      const made = FlightReader.from(begin, options);
      if (!made.ok) return made;
      reader = made.value;
    }
    done += piece.length;
    if (options.onProgress && !options.onProgress(options.sizeBytes ? Math.min(1, done / options.sizeBytes) : 0))
      return failure(cancelled);
  }
  if (!reader) {
    const made = FlightReader.from(begin, options);
    if (!made.ok) return made;
    reader = made.value;
  }
  return reader.finish();
}

const cancelled: Problem = {
  code: 'cancelled',
  place: 'flight log',
  meaning: 'Reading was cancelled.',
  remedy: 'Open it again.',
};

class FlightReader {
  private readonly columns: readonly number[];
  private readonly scanner: NumberScanner;

  private constructor(
    private readonly head: TableHead,
    private readonly mapping: Mapping,
    private readonly questions: readonly UnitQuestion[],
    expectedRows: number,
  ) {
    this.columns = columnsOf(mapping);
    const {separator, decimalComma, firstLine} = head;
    this.scanner = new NumberScanner({
      columns: this.columns,
      exact: mapping.time,
      ...{separator, decimalComma, firstLine, expectedRows},
    });
  }

  static from(begin: Uint8Array, {mapping, units = {}, sizeBytes}: ReadOptions): Result<FlightReader, Problem> {
    const head = readHead(begin);
    if (!head.ok) return head;
    const guess = guessColumns(head.value);
    const used = mapping ?? (guess.mapping && withUnits(guess.mapping, units));
    if (!used) return failure(unknownColumns({head: head.value, guess}));
    const tooFar = columnsOf(used).find((c) => c >= head.value.names.length);
    if (tooFar !== undefined) return failure(unknownColumns({head: head.value, guess}));
    const rows = head.value.sample[0]?.length ?? 0;
    const bytesPerRow = rows ? (Math.min(begin.length, headBytes) - head.value.bytes) / rows : 80;
    const expectedRows = rows < 2000 ? rows + 8 : ((sizeBytes ?? 0) / bytesPerRow) * 1.02;
    // What a person said of the columns leaves nothing open.
    const questions = mapping ? [] : guess.questions.filter(({about}) => units[about] === undefined);
    const reader = new FlightReader(head.value, used, questions, expectedRows);
    reader.feed(begin.subarray(head.value.bytes));
    return success(reader);
  }

  feed(piece: Uint8Array): void {
    this.scanner.feed(piece);
  }

  finish(): FlightReading {
    const {columns, lines} = this.scanner.finish();
    const at = (column: number) => columns[this.columns.indexOf(column)]!;
    const {mapping, head, scanner} = this;
    if (!scanner.rows && scanner.badRows) return failure(this.onlyBadRows());
    const timeS = at(mapping.time) as Float64Array;
    const unit = secondsIn[mapping.timeUnit];
    for (let i = 0; i < timeS.length; i++) timeS[i]! /= unit;
    const base = readTimeBase(timeS, (row) => lines[row]!, 1 / unit);
    if (!base.ok) return base;
    const take = (column: number, scale = 1, offset = 0) =>
      sampled(at(column) as Float32Array, base.value, scale, offset);
    const optional = (column: number | undefined) => (column === undefined ? undefined : take(column));
    const {rowOf, stretches, sampleRateHz, gaps, repeatedTimes, drift, jitter, otherFlights} = base.value;
    const last = stretches.at(-1)!;
    const measured = this.columnsIn(take);
    return success({
      ...{sampleRateHz, stretches, drift, jitter, mapping},
      samples: rowOf.length,
      durationS: last.atS + (last.end - last.start - 1) / sampleRateHz,
      ...measured,
      damage: findDamage(measured.gyro, rowOf),
      volts: optional(mapping.volts),
      amps: optional(mapping.amps),
      names: head.names,
      notes: head.notes,
      questions: this.questions,
      dropped: {badValues: scanner.badRows, badCells: scanner.badCells, repeatedTimes, gaps},
      otherFlights: otherFlights.map(({fromRow, rows}) => ({fromLine: lines[fromRow]!, rows})),
    });
  }

  private columnsIn(take: (column: number, scale?: number, offset?: number) => Float32Array) {
    const {mapping} = this;
    const gyroScale = {'deg/s': 1, 'rad/s': 180 / Math.PI, raw: mapping.gyroScale}[mapping.gyroUnit];
    const rates = (columns: readonly number[], unit: number) =>
      Object.fromEntries(axes.map((axis, a) => [axis, take(columns[a]!, unit * mapping.gyroSigns[a]!)])) as Record<
        Axis,
        Float32Array
      >;
    const gyro = (columns: readonly number[]) => rates(columns, gyroScale);
    const {scale, offset} = {
      '%': {scale: 1, offset: 0},
      '0–1': {scale: 100, offset: 0},
      µs: {scale: 0.1, offset: -100},
    }[mapping.throttleUnit];
    return {
      gyro: gyro(mapping.gyro),
      filteredGyro: mapping.filteredGyro && gyro(mapping.filteredGyro),
      setpoint: mapping.setpoint && rates(mapping.setpoint, mapping.gyroUnit === 'raw' ? 1 : gyroScale),
      throttle: mapping.throttle === undefined ? undefined : take(mapping.throttle, scale, offset),
      speeds: speedsIn(mapping, take),
      commands: mapping.commands.map((c) => inPercent(take(c))),
      replyErrors: mapping.replyErrors.map((c) => take(c)),
    };
  }

  private onlyBadRows(): Problem {
    const {line, column, text} = this.scanner.badCells[0]!;
    return {
      code: 'flight-log',
      place: `line ${line}, column ${this.head.names[column]}`,
      meaning: `${text === '' ? 'The value is missing.' : `"${text}" is not a number.`} No row of ${this.scanner.badRows} could be read.`,
      remedy: 'Say what each column holds, or export the log again.',
    };
  }
}

/** Electrical or mechanical Hz, whatever the log has. */
function speedsIn(
  {speeds, speedUnit, speedScale}: Mapping,
  take: (column: number, scale?: number) => Float32Array,
): LoggedSpeeds {
  if (speedUnit !== 'period') {
    const scale = {rpm: 1 / 60, eRPM: 1 / 60, Hz: 1}[speedUnit] * speedScale;
    const kind = speedUnit === 'eRPM' ? 'electrical' : 'mechanical';
    return {kind, hz: speeds.map((c) => take(c, scale))};
  }
  // A motor that stands has no period: replies say the longest there is, or none.
  const hz = speeds.map((c) => take(c, speedScale).map((us) => (us > 0 && us < longestPeriodUs ? 1e6 / us : 0)));
  return {kind: 'electrical', hz};
}
/** Longest period a reply carries, µs: 511 · 2⁷ (open trade protocol). */
const longestPeriodUs = 65_408;

/** Throttle of one motor in percent, by its range: a share, a pulse, a digital command, or percent already. */
function inPercent(values: Float32Array): Float32Array {
  let most = 0;
  let least = Infinity;
  for (const v of values) {
    if (v > most) most = v;
    if (v < least) least = v;
  }
  if (most <= 1.01) return values.map((v) => v * 100);
  if (most <= 110) return values;
  // Digital throttle runs from 48 to 2047; pulses from 1000 to 2000 µs never fall below about 900.
  if (least >= 800 && most <= 2200) return values.map((v) => (v - 1000) / 10);
  return values.map((v) => Math.max(0, v - 47) / 20);
}

/** Samples of a column: its rows in order, short gaps along a straight line. A fresh array. */
function sampled(column: Float32Array, {rowOf}: TimeBase, scale: number, offset: number): Float32Array {
  const out = new Float32Array(rowOf.length);
  for (let i = 0; i < out.length; i++) {
    const row = rowOf[i]!;
    if (row >= 0) out[i] = column[row]! * scale + offset;
    else {
      let end = i;
      while (rowOf[end]! < 0) end++;
      const [from, to] = [column[-1 - row]!, column[rowOf[end]!]!];
      for (let k = i; k < end; k++) out[k] = (from + ((to - from) * (k - i + 1)) / (end - i + 1)) * scale + offset;
      i = end - 1;
    }
  }
  return out;
}

function unknownColumns(unmapped: UnmappedTable): Problem & {unmapped: UnmappedTable} {
  const {head, guess} = unmapped;
  const lacks = [
    ...(guess.found.time.length ? [] : ['the time']),
    ...(guess.found.gyro.length === 3 ? [] : ['the three axes of the gyro']),
  ];
  return {
    code: 'unmapped-log',
    place: `line ${Math.max(1, head.firstLine - 1)}`,
    meaning: `No column is known for ${lacks.join(' and ') || 'what was requested'} among ${head.names.slice(0, 12).join(', ')}.`,
    remedy: 'Say what each column holds.',
    unmapped,
  };
}

/** The pieces of a text, for those who have it already. */
export const bytesOf = (text: string): Uint8Array[] => [new TextEncoder().encode(text)];

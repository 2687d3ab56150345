/**
 * A flight log as a table, and its CSV form: lines starting with # are notes, then a header, then rows.
 * Columns: time_us, throttle_pct, gyro_roll, gyro_pitch, gyro_yaw (deg/s), erpm_1 … erpm_N.
 */
import Papa from 'papaparse';
import {failure, success, type Problem, type Result} from '../problem';
import {readTimeBase} from './time-base';

/** Motors a log may have; more columns are left alone. */
const mostMotors = 16;

export const axes = ['roll', 'pitch', 'yaw'] as const;
export type Axis = (typeof axes)[number];

export interface FlightLog {
  readonly sampleRateHz: number;
  readonly durationS: number;
  /** Percent, one per sample. */
  readonly throttle: Float64Array;
  /** deg/s. */
  readonly gyro: Readonly<Record<Axis, Float64Array>>;
  /** Electrical rpm of each motor, as logged: pole count not applied. */
  readonly erpm: readonly Float64Array[];
  readonly notes: readonly string[];
}

const wrong = (place: string, meaning: string, remedy: string) => failure({code: 'flight-log', place, meaning, remedy});

/** Reads the CSV text. `onProgress` gets the share done, 0…1; return false from it to cancel. */
export function readFlightLog(text: string, onProgress?: (share: number) => boolean): Result<FlightLog> {
  const notes: string[] = [];
  let at = 0;
  while (text[at] === '#') {
    const end = text.indexOf('\n', at);
    notes.push(text.slice(at + 1, end < 0 ? undefined : end).trim());
    at = end < 0 ? text.length : end + 1;
  }
  const headerLine = notes.length + 1;
  const body = text.slice(at);
  const headerEnd = body.indexOf('\n');
  const header = (headerEnd < 0 ? body : body.slice(0, headerEnd)).trim().split(',');
  const needed = ['time_us', 'throttle_pct', ...axes.map((a) => `gyro_${a}`)];
  const missing = needed.filter((name) => !header.includes(name));
  if (missing.length)
    return wrong(`line ${headerLine}`, `The header lacks ${missing.join(', ')}.`, 'Export the log with these columns.');
  const motors = header.filter((name) => /^erpm_\d+$/.test(name)).slice(0, mostMotors);
  const names = [...needed, ...motors];
  const table = readRows(headerEnd < 0 ? '' : body.slice(headerEnd + 1), {header, names, headerLine, onProgress});
  if (!table.ok) return table;
  const {columns, lines} = table.value;
  if (!lines.length)
    return wrong('whole log', 'Only 0 rows; a spectrum needs at least 1024.', 'Record a longer flight.');
  const time = readTimeBase(columns[0]!, (row) => lines[row]!);
  if (!time.ok) return time;
  const {sampleRateHz, start, end} = time.value;
  const column = (i: number) => columns[i]!.slice(start, end);
  return success({
    sampleRateHz,
    durationS: (end - start - 1) / sampleRateHz,
    throttle: column(1),
    gyro: {roll: column(2), pitch: column(3), yaw: column(4)},
    erpm: motors.map((_, i) => column(5 + i)),
    notes: [...notes, ...time.value.notes],
  });
}

interface RowsQuestion {
  readonly header: readonly string[];
  readonly names: readonly string[];
  readonly headerLine: number;
  readonly onProgress: ((share: number) => boolean) | undefined;
}

interface Rows {
  /** One per name, as long as there are rows. */
  readonly columns: readonly Float64Array[];
  /** Line of the file each row stands on. */
  readonly lines: Int32Array;
}

/** Reads the rows below the header. Quotes mean nothing in a table of numbers: one that never closes eats no rows. */
function readRows(body: string, {header, names, headerLine, onProgress}: RowsQuestion): Result<Rows> {
  const index = names.map((name) => header.indexOf(name));
  let columns = names.map(() => new Float64Array(1 << 14));
  let lines = new Int32Array(1 << 14);
  let rows = 0;
  let line = headerLine;
  let fault: {ok: false; problem: Problem} | undefined;
  Papa.parse<string[]>(body, {
    quoteChar: '\0',
    step: ({data, meta}, parser) => {
      line++;
      if (data.length === 1 && data[0]!.trim() === '') return;
      if (rows === lines.length) {
        columns = columns.map((c) => grown(c, new Float64Array(2 * rows)));
        lines = grown(lines, new Int32Array(2 * rows));
      }
      for (let c = 0; c < names.length; c++) {
        const value = numberIn(data[index[c]!]);
        if (value === undefined) {
          fault = badCell(`line ${line}, column ${names[c]}`, data[index[c]!]);
          return parser.abort();
        }
        columns[c]![rows] = value;
      }
      lines[rows++] = line;
      if (rows % 20_000 === 0 && onProgress && !onProgress(meta.cursor / body.length)) {
        fault = cancelled;
        parser.abort();
      }
    },
  });
  if (fault) return fault;
  return success({columns: columns.map((c) => c.subarray(0, rows)), lines: lines.subarray(0, rows)});
}

function grown<T extends Float64Array | Int32Array>(old: T, larger: T): T {
  larger.set(old);
  return larger;
}

function numberIn(cell: string | undefined): number | undefined {
  const bare = cell?.trim().replace(/^"(.*)"$/, '$1');
  const value = bare ? Number(bare) : NaN;
  return Number.isFinite(value) ? value : undefined;
}

/** Longest piece of a cell that a message repeats, characters. */
const shown = 30;
const badCell = (place: string, cell: string | undefined) =>
  wrong(
    place,
    cell === undefined || cell.trim() === ''
      ? 'The value is missing.'
      : `"${cell.length > shown ? `${cell.slice(0, shown)}…` : cell}" is not a number.`,
    'Mend the line or export the log again.',
  );
const cancelled = failure<Problem>({
  code: 'cancelled',
  place: 'flight log',
  meaning: 'Reading was cancelled.',
  remedy: 'Open it again.',
});

/** Rotation frequency of motor `m` in Hz at each sample, with the given pole count. */
export function motorHz(log: FlightLog, m: number, poles: number): Float64Array {
  const erpm = log.erpm[m];
  if (!erpm) throw new RangeError(`The log has no motor ${m + 1}`);
  return erpm.map((value) => value / (poles / 2) / 60);
}

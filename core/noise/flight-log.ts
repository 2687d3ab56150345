/**
 * A flight log as a table, and its CSV form: lines starting with # are notes, then a header, then rows.
 * Columns: time_us, throttle_pct, gyro_roll, gyro_pitch, gyro_yaw (deg/s), erpm_1 … erpm_N.
 */
import Papa from 'papaparse';
import {failure, success, type Result} from '../problem';

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
  const firstRow = notes.length + 2;
  const body = text.slice(at);
  const headerEnd = body.indexOf('\n');
  const header = (headerEnd < 0 ? body : body.slice(0, headerEnd)).trim().split(',');
  const needed = ['time_us', 'throttle_pct', ...axes.map((a) => `gyro_${a}`)];
  const missing = needed.filter((name) => !header.includes(name));
  if (missing.length)
    return wrong(
      `line ${firstRow - 1}`,
      `The header lacks ${missing.join(', ')}.`,
      'Export the log with these columns.',
    );
  const motors = header.filter((name) => /^erpm_\d+$/.test(name));
  const names = [...needed, ...motors];
  const index = names.map((name) => header.indexOf(name));
  const estimate = Math.max(16, Math.ceil(body.length / 20));
  const columns = names.map(() => new Float64Array(estimate));
  let rows = 0;
  let fault: {ok: false; problem: {code: string; place: string; meaning: string; remedy: string}} | undefined;
  Papa.parse<string[]>(headerEnd < 0 ? '' : body.slice(headerEnd + 1), {
    skipEmptyLines: true,
    step: ({data, meta}, parser) => {
      for (let c = 0; c < names.length; c++) {
        const cell = data[index[c]!];
        const value = cell === undefined || cell === '' ? NaN : Number(cell);
        if (!Number.isFinite(value)) {
          fault = wrong(
            `line ${firstRow + rows}, column ${names[c]}`,
            cell === undefined || cell === '' ? 'The value is missing.' : `"${cell}" is not a number.`,
            'Mend the line or export the log again.',
          );
          parser.abort();
          return;
        }
        columns[c]![rows] = value;
      }
      rows++;
      if (rows % 20_000 === 0 && onProgress && !onProgress(meta.cursor / body.length)) {
        fault = failure({
          code: 'cancelled',
          place: 'flight log',
          meaning: 'Reading was cancelled.',
          remedy: 'Open it again.',
        });
        parser.abort();
      }
    },
  });
  if (fault) return fault;
  if (rows < 1024)
    return wrong('whole log', `Only ${rows} rows; a spectrum needs at least 1024.`, 'Record a longer flight.');
  const time = columns[0]!;
  const durationS = (time[rows - 1]! - time[0]!) / 1e6;
  if (!(durationS > 0)) return wrong(`line ${firstRow}`, 'The time does not advance.', 'Check the time_us column.');
  const column = (i: number) => columns[i]!.slice(0, rows);
  return success({
    sampleRateHz: Math.round(((rows - 1) / durationS) * 1000) / 1000,
    durationS,
    throttle: column(1),
    gyro: {roll: column(2), pitch: column(3), yaw: column(4)},
    erpm: motors.map((_, i) => column(5 + i)),
    notes,
  });
}

/** Rotation frequency of motor `m` in Hz at each sample, with the given pole count. */
export function motorHz(log: FlightLog, m: number, poles: number): Float64Array {
  const erpm = log.erpm[m];
  if (!erpm) throw new RangeError(`The log has no motor ${m + 1}`);
  return erpm.map((value) => value / (poles / 2) / 60);
}

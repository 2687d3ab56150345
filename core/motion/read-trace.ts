/**
 * A spin trace from CSV: lines starting with # are notes, then a header, then rows. Columns: time_s, throttle_1 … (percent),
 * rpm_1 … or erpm_1 …, and where they were measured volts (supply) and amps_1 … (phase current of that motor).
 * An empty cell is a value that did not come.
 */
import Papa from 'papaparse';
import {rpmOfErpm} from '../dshot/reply';
import {failure, success, type Result} from '../problem';
import type {SpinTrace} from './trace';

interface ReadTraceOptions {
  /** Poles of the motors; needed where speeds are electrical. */
  readonly poles?: number | undefined;
  /** Supply in V where the trace has none. */
  readonly volts?: number | undefined;
}

/** A trace may have so many motors, and this many rows. */
const maxMotors = 16;
const maxRows = 5_000_000;
const minRows = 8;

const wrong = (place: string, meaning: string, remedy: string) => failure({code: 'spin-trace', place, meaning, remedy});

interface Columns {
  readonly time: number;
  readonly volts: number | undefined;
  readonly motors: readonly {
    readonly throttle: number;
    readonly speed: number;
    readonly electrical: boolean;
    readonly amps: number | undefined;
  }[];
}

export function readSpinTrace(text: string, options: ReadTraceOptions = {}): Result<SpinTrace> {
  const lines = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {quoteChar: '\0'}).data;
  const headerAt = lines.findIndex((cells) => !cells[0]!.startsWith('#') && cells.some((c) => c.trim() !== ''));
  if (headerAt < 0) return wrong('whole file', 'It holds no rows.', 'Choose a spin trace as CSV.');
  const columns = readHeader(lines[headerAt]!, headerAt + 1, options);
  if (!columns.ok) return columns;
  return readRows(lines, headerAt + 1, columns.value, options);
}

function readHeader(cells: readonly string[], line: number, {poles}: ReadTraceOptions): Result<Columns> {
  const names = cells.map((c) =>
    c
      .trim()
      .toLowerCase()
      .replace(/^"(.*)"$/, '$1'),
  );
  const find = (name: string) => (names.includes(name) ? names.indexOf(name) : undefined);
  const place = `line ${line}`;
  const time = find('time_s');
  if (time === undefined) return wrong(place, 'The header lacks time_s.', 'Name the column of seconds time_s.');
  const numbers = names.flatMap((name) => /^e?rpm_(\d+)$/.exec(name)?.[1] ?? []).map(Number);
  const count = Math.max(0, ...numbers);
  if (!count || count > maxMotors)
    return wrong(
      place,
      `The header has no speeds of 1 to ${maxMotors} motors.`,
      'Name them rpm_1, rpm_2 … or erpm_1 …',
    );
  const motors: Columns['motors'][number][] = [];
  for (let m = 1; m <= count; m++) {
    const speed = find(`rpm_${m}`) ?? find(`erpm_${m}`);
    const throttle = find(`throttle_${m}`) ?? find('throttle');
    if (speed === undefined || throttle === undefined)
      return wrong(
        place,
        `Motor ${m} has no ${speed === undefined ? `rpm_${m}` : `throttle_${m}`}.`,
        'Number the columns of the motors from 1 without gaps.',
      );
    const electrical = find(`rpm_${m}`) === undefined;
    if (electrical && poles === undefined)
      return wrong(place, `erpm_${m} is electrical speed.`, 'Say with --poles how many poles the motors have.');
    motors.push({speed, throttle, electrical, amps: find(`amps_${m}`)});
  }
  return success({time, volts: find('volts'), motors});
}

/** Columns that grow row by row. */
class Rows {
  readonly timeS: Float64Array;
  readonly volts: Float64Array | undefined;
  readonly motors: readonly {throttle: Float64Array; rpm: Float64Array; amps: Float64Array | undefined}[];
  kept = 0;
  turnedBack = 0;

  constructor(
    most: number,
    private readonly columns: Columns,
    private readonly poles: number | undefined,
  ) {
    const array = () => new Float64Array(most);
    this.timeS = array();
    this.volts = columns.volts === undefined ? undefined : array();
    this.motors = columns.motors.map(({amps}) => ({
      throttle: array(),
      rpm: array(),
      amps: amps === undefined ? undefined : array(),
    }));
  }

  /** Takes a row; returns what is wrong with it. */
  take(cells: readonly string[], place: string): Refusal | undefined {
    const {columns, kept} = this;
    const time = numberIn(cells[columns.time]);
    if (!Number.isFinite(time)) return badCell(place, 'time_s', cells[columns.time]);
    if (kept && time <= this.timeS[kept - 1]!) {
      this.turnedBack++;
      return undefined;
    }
    this.timeS[kept] = time;
    if (this.volts) this.volts[kept] = valueIn(cells[columns.volts!]);
    for (const m of columns.motors.keys()) {
      const refused = this.takeMotor(m, cells, place);
      if (refused) return refused;
    }
    this.kept++;
    return undefined;
  }

  private takeMotor(m: number, cells: readonly string[], place: string): Refusal | undefined {
    const [column, own, {kept}] = [this.columns.motors[m]!, this.motors[m]!, this];
    const percent = numberIn(cells[column.throttle]);
    if (!Number.isFinite(percent)) return badCell(place, `throttle_${m + 1}`, cells[column.throttle]);
    if (percent < 0 || percent > 100)
      return wrong(place, `throttle_${m + 1} is ${percent}; it is percent, 0 to 100.`, 'Export throttle in percent.');
    const speed = valueIn(cells[column.speed]);
    if (speed < 0) return wrong(place, `The speed of motor ${m + 1} is negative.`, 'Export speeds without a sign.');
    own.throttle[kept] = percent / 100;
    own.rpm[kept] = column.electrical ? rpmOfErpm(speed, this.poles!) : speed;
    if (own.amps) own.amps[kept] = valueIn(cells[column.amps!]);
    return undefined;
  }
}

type Refusal = ReturnType<typeof wrong>;

function readRows(
  lines: readonly (readonly string[])[],
  from: number,
  columns: Columns,
  {poles, volts}: ReadTraceOptions,
): Result<SpinTrace> {
  const most = Math.min(lines.length - from, maxRows);
  const rows = new Rows(most, columns, poles);
  for (let i = 0; i < most; i++) {
    const cells = lines[from + i]!;
    if (cells.every((c) => c.trim() === '') || cells[0]!.startsWith('#')) continue;
    const refused = rows.take(cells, `line ${from + i + 1}`);
    if (refused) return refused;
  }
  const {kept, turnedBack} = rows;
  if (kept < minRows) return wrong('whole file', `Only ${kept} rows.`, 'Record a longer trace.');
  const cut = (values: Float64Array) => values.slice(0, kept);
  const given = volts === undefined ? undefined : new Float64Array(kept).fill(volts);
  return success({
    timeS: cut(rows.timeS),
    volts: rows.volts ? cut(rows.volts) : given,
    motors: rows.motors.map(({throttle, rpm, amps}) => ({
      throttle: cut(throttle),
      rpm: cut(rpm),
      amps: amps && cut(amps),
    })),
    notes: turnedBack ? [`${turnedBack} rows whose time did not rise were skipped.`] : [],
  });
}

/** A number; NaN where nothing stands, undefined never: what is no number is NaN too and told by the caller. */
function numberIn(cell: string | undefined): number {
  const bare = cell?.trim().replace(/^"(.*)"$/, '$1');
  return bare ? Number(bare) : NaN;
}

/** A measured value, NaN where it did not come. */
const valueIn = (cell: string | undefined): number => {
  const value = numberIn(cell);
  return Number.isFinite(value) ? value : NaN;
};

const badCell = (place: string, column: string, cell: string | undefined) =>
  wrong(
    `${place}, column ${column}`,
    cell === undefined || cell.trim() === '' ? 'The value is missing.' : `"${cell.slice(0, 30)}" is not a number.`,
    'Mend the line or export the trace again.',
  );

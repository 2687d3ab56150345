/**
 * Guesses what each column of a table holds, from its name and from its range. Names are the common words of the trade;
 * what name and range leave open is told as a question, with the answer that is assumed until somebody gives another.
 */
import {axes, usualGyroScale, type Mapping} from './mapping';
import {gyroUnitOf, speedUnitOf, throttleUnitOf, timeUnitOf, type UnitQuestion} from './guess-units';
import type {TableHead} from './table-head';
import {wordsOf} from './column-words';

export type Role =
  | 'time'
  | 'gyro'
  | 'filteredGyro'
  | 'setpoint'
  | 'throttle'
  | 'speeds'
  | 'commands'
  | 'replyErrors'
  | 'volts'
  | 'amps';

export interface Guess {
  /** Undefined where time or an axis of the gyro was not found. */
  readonly mapping: Mapping | undefined;
  /** Columns found so far, by role, for a mapping that is completed by hand. */
  readonly found: Readonly<Record<Role, readonly number[]>>;
  /** What name and range leave open, as questions. */
  readonly questions: readonly UnitQuestion[];
}

const sets = {
  time: ['time', 'timestamp', 't', 'clock', 'zeit', 'timer', 'times'],
  gyro: [
    'gyro',
    'gyr',
    'gyros',
    'rate',
    'rates',
    'omega',
    'gx',
    'gy',
    'gz',
    'angularvelocity',
    'w',
    'p',
    'q',
    'r',
    'imu',
    'rotation',
  ],
  axis: ['roll', 'pitch', 'yaw', 'x', 'y', 'z', 'gx', 'gy', 'gz', 'p', 'q', 'r', 'wx', 'wy', 'wz'],
  throttle: ['throttle', 'thr', 'thrust', 'collective', 'gas'],
  speeds: ['rpm', 'erpm', 'speed', 'speeds', 'rps', 'hz', 'freq', 'frequency', 'period', 'revs', 'rev', 'interval'],
  commands: ['motor', 'mot', 'cmd', 'command', 'commands', 'output', 'out', 'duty', 'pwm', 'm', 'esc', 'servo'],
  replyErrors: [
    'err',
    'error',
    'errors',
    'loss',
    'lost',
    'invalid',
    'bad',
    'errs',
    'missed',
    'missing',
    'fail',
    'failed',
  ],
  volts: ['volt', 'volts', 'voltage', 'vbat', 'vbatt', 'battery', 'vpack', 'v'],
  amps: ['amp', 'amps', 'current', 'amperage', 'curr', 'ibat', 'ipack'],
  raw: ['raw', 'unfilt', 'unfiltered', 'pre', 'prefilter', 'unfilteredgyro', 'rawgyro', 'nofilter', 'measured'],
  filtered: ['filt', 'filtered', 'post', 'flt', 'smooth', 'lpf', 'filteredgyro'],
  setpoint: ['setpoint', 'sp', 'target', 'desired', 'want', 'wanted'],
  never: [
    'acc',
    'accel',
    'accelerometer',
    'mag',
    'setpoint',
    'sp',
    'target',
    'rc',
    'stick',
    'pid',
    'axisp',
    'axisi',
    'axisd',
    'baro',
    'alt',
    'angle',
    'attitude',
    'quat',
    'euler',
    'iteration',
    'loop',
    'index',
    'cpu',
    'temp',
    'temperature',
    'load',
    'desired',
    'want',
    'wanted',
  ],
} as const;
type Words = readonly string[];
const has = (words: Words, set: readonly string[]) => words.some((word) => set.includes(word));

export function guessColumns(head: TableHead): Guess {
  const words = head.names.map((name) => wordsOf(name));
  const find = (test: (words: Words) => boolean) => words.flatMap((w, i) => (test(w) ? [i] : []));
  const isNever = (w: Words) => has(w, sets.never);
  const errors = find((w) => has(w, sets.replyErrors));
  const speeds = find(
    (w) => has(w, sets.speeds) && !has(w, sets.replyErrors) && !isNever(w) && !has(w, sets.gyro.slice(0, 3)),
  );
  const gyros = gyroColumns(words, isNever, new Set([...errors, ...speeds]));
  const taken = new Set([...errors, ...speeds, ...gyros.measured, ...(gyros.filtered ?? [])]);
  const free = (set: readonly string[]) => find((w) => has(w, set) && !isNever(w)).filter((i) => !taken.has(i));
  const time = timeColumn(head, free(sets.time));
  const throttle = free(sets.throttle)[0];
  const numbered = free(sets.commands).filter((i) => i !== time && i !== throttle && /\d/.test(head.names[i]!));
  const found: Record<Role, readonly number[]> = {
    time: time === undefined ? [] : [time],
    gyro: gyros.measured,
    filteredGyro: gyros.filtered ?? [],
    setpoint: setpointColumns(words),
    throttle: throttle === undefined ? [] : [throttle],
    speeds: speeds.slice(0, maxMotors),
    commands: numbered.length === speeds.length || !speeds.length ? numbered.slice(0, maxMotors) : [],
    replyErrors: errors.slice(0, maxMotors),
    volts: free(sets.volts).slice(0, 1),
    amps: free(sets.amps).slice(0, 1),
  };
  return completed(head, found);
}

/** Motors a log may have; more columns are left alone. */
const maxMotors = 16;

/** A mapping of found columns, with its units guessed. */
export function completed(head: TableHead, found: Guess['found']): Guess {
  const questions: UnitQuestion[] = [];
  const ask = <T>({value, question}: {value: T; question?: UnitQuestion | undefined}): T => {
    if (question) questions.push(question);
    return value;
  };
  const [time] = found.time;
  if (time === undefined || found.gyro.length !== 3) return {mapping: undefined, found, questions};
  const gyro = ask(gyroUnitOf(head, found.gyro));
  const speed = ask(speedUnitOf(head, found.speeds));
  return {
    found,
    questions,
    mapping: {
      time,
      timeUnit: ask(timeUnitOf(head, time)),
      gyro: triple(found.gyro),
      gyroUnit: gyro,
      gyroScale: usualGyroScale,
      gyroSigns: [1, 1, 1],
      ...(found.filteredGyro.length === 3 ? {filteredGyro: triple(found.filteredGyro)} : {}),
      ...(found.setpoint.length === 3 ? {setpoint: triple(found.setpoint)} : {}),
      ...(found.throttle.length ? {throttle: found.throttle[0]} : {}),
      throttleUnit: found.throttle.length ? ask(throttleUnitOf(head, found.throttle[0]!)) : '%',
      speeds: found.speeds,
      speedUnit: speed.unit,
      speedScale: speed.scale,
      commands: found.commands,
      replyErrors: found.replyErrors,
      ...(found.volts.length ? {volts: found.volts[0]} : {}),
      ...(found.amps.length ? {amps: found.amps[0]} : {}),
    },
  };
}

const triple = ([a, b, c]: readonly number[]): [number, number, number] => [a!, b!, c!];

/** The named column, else the first that only grows. */
function timeColumn({sample}: TableHead, named: readonly number[]): number | undefined {
  const grows = (column: number) => {
    const values = sample[column]!;
    let up = 0;
    for (let i = 1; i < values.length; i++) if (values[i]! >= values[i - 1]!) up++;
    return values.length > 2 && up > 0.9 * (values.length - 1) && values.at(-1)! > values[0]!;
  };
  return named.find(grows) ?? named[0] ?? sample.map((_, i) => i).find(grows);
}

/** Three columns named alike but for the axis; two such sets are the measured and the filtered gyro. */
function gyroColumns(words: readonly Words[], isNever: (w: Words) => boolean, taken: ReadonlySet<number>) {
  const groups = new Map<string, number[]>();
  words.forEach((w, i) => {
    if (taken.has(i) || isNever(w) || has(w, sets.throttle)) return;
    if (!has(w, sets.gyro) && !has(w, sets.axis)) return;
    const stem = w.filter((word) => !isAxisWord(word)).join(' ');
    groups.set(stem, [...(groups.get(stem) ?? []), i]);
  });
  const named = [...groups.entries()]
    .filter(([, list]) => list.length >= 3)
    .map(([stem, list]) => ({words: stem.split(' '), columns: inAxisOrder(list.slice(0, 3), words)}))
    .sort((a, b) => rank(b.words) - rank(a.words));
  const measured =
    named.find((g) => has(g.words, sets.raw)) ?? named.find((g) => !has(g.words, sets.filtered)) ?? named[0];
  const filtered = named.find((g) => g !== measured && rank(g.words) > 0);
  return {measured: measured?.columns ?? [], filtered: filtered?.columns};
}
/** Three columns of what the pilot asked for, one for each axis. */
function setpointColumns(words: readonly Words[]): readonly number[] {
  const others = ['acc', 'angle', 'attitude', 'quat', 'euler', 'alt', 'throttle', 'thr'];
  const named = words.flatMap((w, i) => (has(w, sets.setpoint) && !has(w, others) ? [i] : []));
  const ofAxis = named.filter((i) => has(words[i]!, sets.axis) || words[i]!.some(isAxisWord));
  return ofAxis.length >= 3 ? inAxisOrder(ofAxis.slice(0, 3), words) : [];
}

const rank = (stem: Words) =>
  (has(stem, sets.gyro) ? 2 : 0) + (has(stem, sets.raw) || has(stem, sets.filtered) ? 1 : 0);
const isAxisWord = (word: string) => (sets.axis as Words).includes(word) || /^[0-2]$|^[1-3]$/.test(word);

/** Roll before pitch before yaw, where the names say it; else as the columns stand. */
function inAxisOrder(list: readonly number[], words: readonly Words[]): readonly number[] {
  const order = [
    ['roll', 'x', 'gx', 'p', 'wx'],
    ['pitch', 'y', 'gy', 'q', 'wy'],
    ['yaw', 'z', 'gz', 'r', 'wz'],
  ];
  const sorted = axes.map((_, a) => list.find((i) => has(words[i]!, order[a]!)));
  return sorted.every((i) => i !== undefined) ? sorted : list;
}

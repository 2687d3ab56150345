/** The headless door: core functions on files, JSON out. Exit 1 and a JSON error for bad input. */
import {createReadStream, readFileSync, statSync} from 'node:fs';
import type {AddressInfo} from 'node:net';
import {basename} from 'node:path';
import {createGunzip} from 'node:zlib';
import {checkAdapter, conformanceRules, type CheckReport, type RuleResult} from '@core/conformance/check-adapter';
import {clockOf} from '@core/link/clock';
import {benches} from '@simulator/benches/benches';
import {faults} from '@simulator/testing/faulty-adapter';
import {sumOf} from './drill/counters';
import {amplitudeClasses, calibrateAmplitudes} from './calibrate/flight-amplitudes';
import {calibratePairs, pairClasses} from './calibrate/flight-pairs';
import {calibratePoleCount} from './calibrate/pole-count';
import {calibrateCards, motorClasses} from './calibrate/spin-traces';
import {drill} from './drill/drill';
import {fuzz, fuzzKinds} from './fuzz/fuzz';
import {describeCapture} from './capture-report';
import {describeChain} from './chain-report';
import {describeController} from './controller-report';
import {firmwareFrom} from './controller-image';
import {describeImage} from './image-report';
import {describeFilter} from './filter-report';
import {describeNoise, type LogFile} from './noise-report';
import {serveBench} from './serve-bench';
import {describeSpin} from './spin-report';
import {openTcpPort} from './tcp-port';

const usage =
  'Usage: bidex image FILE [--base ADDRESS] [--against FILE] | bidex noise FILE --poles N [--before EARLIER] [--unit gyro=rad/s,speed=rpm] [--at HZ,HZ] [--filter PLAN.json] | ' +
  'bidex chain LOG --poles N [--delay-ms D] [--load-percent L] | ' +
  'bidex filter --type notch|lowpass1|lowpass2|lowpass3|biquad-lowpass --f0 HZ [--q Q] --fs HZ --at HZ,HZ | ' +
  'bidex capture FILE [--poles N] | bidex spin TRACE.csv [--poles N] [--volts V] | bidex controller FILE.toml [--against OTHER.toml] [--to VERSION] | ' +
  `bidex drill --runs N --seed N --craft juniper|sorrel|alder|bramble | bidex calibrate --runs N --seed N [--of poleCount|pairs|amplitudes|cards] | bidex fuzz --runs N --seed N [--of ${fuzzKinds.join('|')}] | ` +
  'bidex bench --craft CRAFT --listen PORT [--fault NAME] | bidex check-adapter --connect HOST:PORT [--props-off] [--spare-esc] [--controller-image FILE] [--only RULE,RULE] [--json]';
interface Command {
  /** Whether it works on a file. */
  readonly file: boolean;
  /** Options with a value. */
  readonly options: readonly string[];
  /** Options without one. */
  readonly flags?: readonly string[];
}

const commands: Readonly<Record<string, Command>> = {
  image: {file: true, options: ['--base', '--against']},
  spin: {file: true, options: ['--poles', '--volts']},
  controller: {file: true, options: ['--against', '--to']},
  capture: {file: true, options: ['--poles']},
  noise: {file: true, options: ['--poles', '--before', '--unit', '--at', '--filter']},
  chain: {file: true, options: ['--poles', '--delay-ms', '--load-percent']},
  filter: {file: false, options: ['--type', '--f0', '--q', '--fs', '--at']},
  drill: {file: false, options: ['--runs', '--seed', '--craft']},
  calibrate: {file: false, options: ['--runs', '--seed', '--of']},
  fuzz: {file: false, options: ['--runs', '--seed', '--of']},
  bench: {file: false, options: ['--craft', '--listen', '--fault']},
  'check-adapter': {
    file: false,
    options: ['--connect', '--controller-image', '--only'],
    flags: ['--props-off', '--spare-esc', '--json'],
  },
};

interface Outcome {
  /** Printed as JSON; a text as it is, nothing when undefined. */
  readonly output: unknown;
  readonly exitCode: number;
}

/** Everything but what takes its time or comes in pieces. */
export function main(args: readonly string[]): Outcome {
  const [name = '', ...others] = args;
  const command = commands[name];
  const [file, ...rest] = command?.file ? others : ['', ...others];
  if (!command || file === undefined || Object.hasOwn(long, name)) return fail('usage', usage);
  const options = readOptions(name, command, rest);
  if ('exitCode' in options) return options;
  try {
    switch (name) {
      case 'image':
        return image(file, options);
      case 'spin':
        return answer(describeSpin(read(file).toString('utf8'), options));
      case 'controller':
        return controller(file, options);
      default:
        return answer(describeFilter(options));
    }
  } catch (error) {
    if (error instanceof FileError) return fail('file', error.message);
    throw error;
  }
}

function controller(file: string, options: ReadonlyMap<string, string>): Outcome {
  const text = (name: string) => read(name).toString('utf8');
  const against = options.get('--against');
  return answer(
    describeController({
      text: text(file),
      against: against === undefined ? undefined : text(against),
      to: options.get('--to'),
    }),
  );
}

const wholeNumber = (options: ReadonlyMap<string, string>, name: string) => Number(options.get(name) ?? NaN);

/** Reads a flight log in pieces; packed ones (gzip) are unpacked on the way. */
export async function mainNoise([file, ...rest]: readonly string[]): Promise<Outcome> {
  if (file === undefined) return fail('usage', usage);
  const options = readOptions('noise', commands['noise']!, rest);
  if ('exitCode' in options) return options;
  return reported(() => {
    const filter = options.get('--filter');
    const filterText = filter === undefined ? undefined : read(filter).toString('utf8');
    const earlier = options.get('--before');
    const before = earlier === undefined ? undefined : logFile(earlier);
    return describeNoise(logFile(file), {options, filterText, before});
  });
}

/** Searches the best filter chain for a flight log. */
export async function mainChain([file, ...rest]: readonly string[]): Promise<Outcome> {
  if (file === undefined) return fail('usage', usage);
  const options = readOptions('chain', commands['chain']!, rest);
  if ('exitCode' in options) return options;
  return reported(() => describeChain(logFile(file), options));
}

/** Reads a capture of wires in pieces. */
export async function mainCapture([file, ...rest]: readonly string[]): Promise<Outcome> {
  if (file === undefined) return fail('usage', usage);
  const options = readOptions('capture', commands['capture']!, rest);
  if ('exitCode' in options) return options;
  return reported(() => describeCapture(logFile(file).pieces, options.get('--poles')));
}

type Described = {readonly ok: boolean; readonly value: unknown};

const logFile = (file: string): LogFile => ({sizeBytes: sizeOf(file), pieces: piecesOf(file)});

/** A file as a stream, unpacked on the way where it is packed (gzip). */
async function* piecesOf(file: string): AsyncGenerator<Uint8Array> {
  const packed = createReadStream(file, {highWaterMark: 1 << 20});
  try {
    yield* (file.endsWith('.gz') ? packed.pipe(createGunzip()) : packed) as AsyncIterable<Uint8Array>;
  } catch (error) {
    throw new FileError(`${basename(file)} cannot be read: ${(error as Error).message}`, {cause: error});
  }
}

/** What was read came to: its report, or why it could not be read. */
async function reported(describe: () => Promise<Described>): Promise<Outcome> {
  try {
    return answer(await describe());
  } catch (error) {
    if (error instanceof FileError) return fail('file', error.message);
    throw error;
  }
}

/** Many runs, counted on standard error as they go, one JSON answer. */
export async function mainDrill(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('drill', commands['drill']!, args);
  if ('exitCode' in options) return options;
  const [runs, seed] = [wholeNumber(options, '--runs'), wholeNumber(options, '--seed')];
  const craft = options.get('--craft') ?? '';
  if (!Number.isInteger(runs) || runs < 1 || !Number.isInteger(seed) || !(craft in benches))
    return fail('usage', usage);
  const onRun = (done: number) => done % 100 === 0 && process.stderr.write(`${done} of ${runs}\n`);
  const {report, notes} = await drill({craft, runs, seed, onRun});
  process.stderr.write(`${JSON.stringify(notes)}\n`);
  return answer({ok: sumOf(report) === 0, value: report});
}

/** Many drawn flights and spin traces with known truth, one JSON answer. */
function mainCalibrate(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('calibrate', commands['calibrate']!, args);
  if ('exitCode' in options) return Promise.resolve(options);
  const [runs, seed] = [wholeNumber(options, '--runs'), wholeNumber(options, '--seed')];
  const of = options.get('--of');
  if (!Number.isInteger(runs) || runs < 1 || !Number.isInteger(seed) || !(of === undefined || of in calibrations))
    return Promise.resolve(fail('usage', usage));
  const value = Object.fromEntries(
    Object.entries(calibrations)
      .filter(([name]) => of === undefined || name === of)
      .map(([name, calibrate]) => [name, calibrate(runs, seed)]),
  );
  const wrong = value['poleCount'] as ReturnType<typeof calibratePoleCount> | undefined;
  return Promise.resolve(answer({ok: !wrong?.wrong.length, value}));
}

const byClass = <T>(classes: object, calibrate: (name: string) => T): Record<string, T> =>
  Object.fromEntries(Object.keys(classes).map((name) => [name, calibrate(name)]));

const calibrations: Readonly<Record<string, (runs: number, seed: number) => unknown>> = {
  poleCount: calibratePoleCount,
  pairs: (runs, seed) => byClass(pairClasses, (name) => calibratePairs(name, runs, seed)),
  amplitudes: (runs, seed) => byClass(amplitudeClasses, (name) => calibrateAmplitudes(name, runs, seed)),
  cards: (runs, seed) => byClass(motorClasses, (name) => calibrateCards(name, runs, seed)),
};

/** Many inputs, counted on standard error as they go, one JSON answer. */
async function mainFuzz(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('fuzz', commands['fuzz']!, args);
  if ('exitCode' in options) return options;
  const [runs, seed] = [wholeNumber(options, '--runs'), wholeNumber(options, '--seed')];
  const kind = options.get('--of') ?? 'images';
  if (!Number.isInteger(runs) || runs < 1 || !Number.isInteger(seed) || !fuzzKinds.includes(kind))
    return fail('usage', usage);
  const onRun = (done: number) => done % 10_000 === 0 && process.stderr.write(`${done} of ${runs}\n`);
  const value = await fuzz(kind, {runs, seed, onRun});
  return answer({ok: value.throws + value.tooLarge === 0, value});
}

/** Serves until it is told to stop. */
export async function mainBench(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('bench', commands['bench']!, args);
  if ('exitCode' in options) return options;
  const [craft, port, fault] = [options.get('--craft') ?? '', wholeNumber(options, '--listen'), options.get('--fault')];
  if (!(craft in benches) || !isPort(port) || (fault !== undefined && !(fault in faults)))
    return fail('usage', `${usage} Faults: ${Object.keys(faults).join(', ')}.`);
  try {
    const server = await serveBench({craft, port, fault});
    console.log(`The stand-in bench of ${craft} listens on 127.0.0.1:${(server.address() as AddressInfo).port}.`);
    await new Promise<void>((resolve) => process.once('SIGINT', resolve).once('SIGTERM', resolve));
    process.exit(0);
  } catch (error) {
    return fail('listen', `Port ${port} cannot be had: ${(error as Error).message}`);
  }
}

/** One line per rule, or one JSON answer. */
export async function mainCheck(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('check-adapter', commands['check-adapter']!, args);
  if ('exitCode' in options) return options;
  const [, host = '', digits = ''] = /^(.+):(\d+)$/.exec(options.get('--connect') ?? '') ?? [];
  if (!isPort(Number(digits)) || !host) return fail('usage', usage);
  const isJson = options.has('--json');
  try {
    const open = () => openTcpPort(host.replace(/^\[(.*)\]$/, '$1'), Number(digits));
    const onRule = (rule: RuleResult) => void (isJson || console.log(ruleLine(rule)));
    const allowed = {propsOff: options.has('--props-off'), spareEsc: options.has('--spare-esc')};
    const firmwareFor = firmwareFrom(options.get('--controller-image'));
    const clock = clockOf(globalThis);
    const only = options.get('--only')?.split(',');
    const unknown = only?.find((id) => !conformanceRules.some((rule) => rule.id === id));
    if (unknown !== undefined) return fail('usage', `No rule is called "${unknown}". docs/bench-link.md lists them.`);
    const report = await checkAdapter({open, clock, ...allowed, overNetwork: true, firmwareFor, only, onRule});
    return checkOutcome(report, isJson);
  } catch (error) {
    return fail('connect', `${host}:${digits} does not answer: ${(error as Error).message}`);
  }
}

const marks = {kept: '✓', broken: '✗', 'not tried': '–'} as const;
const ruleLine = ({id, text, result, detail}: RuleResult) =>
  `${marks[result]} ${id.padEnd(18)} ${text}${detail ? `\n  ${''.padEnd(18)} ${result}: ${detail}` : ''}`;

function checkOutcome({hello, rules}: CheckReport, isJson: boolean): Outcome {
  const count = (result: RuleResult['result']) => rules.filter((r) => r.result === result).length;
  const [kept, broken, notTried] = [count('kept'), count('broken'), count('not tried')];
  const exitCode = broken ? 1 : 0;
  if (!isJson) return {output: `${kept} rules kept, ${broken} broken, ${notTried} not tried.`, exitCode};
  const {adapter = null, road = null} = hello ?? {};
  return {output: {adapter, road, kept, broken, notTried, rules}, exitCode};
}

const isPort = (port: number) => Number.isInteger(port) && port >= 0 && port <= 0xffff;

/** Commands that take their time. */
const long: Readonly<Record<string, (args: readonly string[]) => Promise<Outcome>>> = {
  capture: mainCapture,
  noise: mainNoise,
  chain: mainChain,
  drill: mainDrill,
  calibrate: mainCalibrate,
  fuzz: mainFuzz,
  bench: mainBench,
  'check-adapter': mainCheck,
};

function readOptions(
  command: string,
  {options: known, flags}: Command,
  rest: readonly string[],
): Map<string, string> | Outcome {
  const options = new Map<string, string>();
  for (let i = 0; i < rest.length; i++) {
    const name = rest[i]!;
    if (flags?.includes(name)) {
      options.set(name, '');
      continue;
    }
    const value = rest[++i];
    if (!known.includes(name)) return fail('usage', `${name} is not an option of "${command}". ${usage}`);
    if (value === undefined) return fail('usage', `${name} needs a value. ${usage}`);
    options.set(name, value);
  }
  return options;
}

function image(file: string, options: ReadonlyMap<string, string>): Outcome {
  const stated = options.get('--base');
  const base = stated === undefined ? undefined : /^(0x[0-9a-f]+|\d+)$/i.test(stated) ? Number(stated) : NaN;
  if (Number.isNaN(base)) return fail('base', `--base takes an address such as 0x1000, not "${stated}".`);
  const against = options.get('--against');
  return answer(describeImage({file: read(file), base, against: against === undefined ? undefined : read(against)}));
}

class FileError extends Error {}

function read(file: string): Buffer {
  try {
    return readFileSync(file);
  } catch (error) {
    throw new FileError(`${basename(file)} cannot be read: ${(error as Error).message}`, {cause: error});
  }
}

function sizeOf(file: string): number {
  try {
    return statSync(file).size;
  } catch (error) {
    throw new FileError(`${basename(file)} cannot be read: ${(error as Error).message}`, {cause: error});
  }
}

const fail = (code: string, message: string): Outcome => ({output: {error: {code, message}}, exitCode: 1});
const answer = ({ok, value}: {ok: boolean; value: unknown}): Outcome => ({output: value, exitCode: ok ? 0 : 1});

if (process.argv[1]?.endsWith('bidex.ts')) {
  const args = process.argv.slice(2);
  const own = Object.hasOwn(long, args[0] ?? '') ? long[args[0]!] : undefined;
  const {output, exitCode} = own ? await own(args.slice(1)) : main(args);
  console.log(typeof output === 'string' ? output : JSON.stringify(output, null, 2));
  process.exitCode = exitCode;
}

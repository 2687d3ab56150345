/** The headless door: core functions on files, JSON out. Exit 1 and a JSON error for bad input. */
import {readFileSync} from 'node:fs';
import {basename} from 'node:path';
import {benches} from '@simulator/benches/benches';
import {sumOf} from './drill/counters';
import {drill} from './drill/drill';
import {fuzz, fuzzKinds} from './fuzz/fuzz';
import {describeImage} from './image-report';
import {describeNoise} from './noise-report';

const usage =
  'Usage: bidex image FILE [--base ADDRESS] [--against FILE] | bidex noise FILE --poles N [--at HZ,HZ] [--axis roll|pitch|yaw] | ' +
  'bidex drill --runs N --seed N --craft juniper|sorrel|alder|bramble | bidex fuzz --runs N --seed N [--of images|backups|snapshots|logs|frames]';
/** Options of each command, and whether it works on a file. */
const commands: Readonly<Record<string, {readonly file: boolean; readonly options: readonly string[]}>> = {
  image: {file: true, options: ['--base', '--against']},
  noise: {file: true, options: ['--poles', '--at', '--axis']},
  drill: {file: false, options: ['--runs', '--seed', '--craft']},
  fuzz: {file: false, options: ['--runs', '--seed', '--of']},
};

interface Outcome {
  readonly output: unknown;
  readonly exitCode: number;
}

/** Everything but what takes its time. */
export function main(args: readonly string[]): Outcome {
  const [name = '', ...others] = args;
  const command = commands[name];
  const [file, ...rest] = command?.file ? others : ['', ...others];
  if (!command || file === undefined || Object.hasOwn(long, name)) return fail('usage', usage);
  const options = readOptions(name, command.options, rest);
  if ('exitCode' in options) return options;
  try {
    switch (name) {
      case 'image':
        return image(file, options);
      default:
        return answer(describeNoise(read(file).toString('utf8'), options));
    }
  } catch (error) {
    if (error instanceof FileError) return fail('file', error.message);
    throw error;
  }
}

const wholeNumber = (options: ReadonlyMap<string, string>, name: string) => Number(options.get(name) ?? NaN);

/** Many runs, counted on standard error as they go, one JSON answer. */
export async function mainDrill(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('drill', commands.drill!.options, args);
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

/** Many inputs, counted on standard error as they go, one JSON answer. */
async function mainFuzz(args: readonly string[]): Promise<Outcome> {
  const options = readOptions('fuzz', commands['fuzz']!.options, args);
  if ('exitCode' in options) return options;
  const [runs, seed] = [wholeNumber(options, '--runs'), wholeNumber(options, '--seed')];
  const kind = options.get('--of') ?? 'images';
  if (!Number.isInteger(runs) || runs < 1 || !Number.isInteger(seed) || !fuzzKinds.includes(kind))
    return fail('usage', usage);
  const onRun = (done: number) => done % 10_000 === 0 && process.stderr.write(`${done} of ${runs}\n`);
  const value = await fuzz(kind, {runs, seed, onRun});
  return answer({ok: value.throws + value.tooLarge === 0, value});
}

/** Commands that take their time. */
const long: Readonly<Record<string, (args: readonly string[]) => Promise<Outcome>>> = {
  drill: mainDrill,
  fuzz: mainFuzz,
};

function readOptions(
  command: string,
  known: readonly string[],
  rest: readonly string[],
): Map<string, string> | Outcome {
  const options = new Map<string, string>();
  for (let i = 0; i < rest.length; i += 2) {
    const [name, value] = [rest[i]!, rest[i + 1]];
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

const fail = (code: string, message: string): Outcome => ({output: {error: {code, message}}, exitCode: 1});
const answer = ({ok, value}: {ok: boolean; value: unknown}): Outcome => ({output: value, exitCode: ok ? 0 : 1});

if (process.argv[1]?.endsWith('bidex.ts')) {
  const args = process.argv.slice(2);
  const own = Object.hasOwn(long, args[0] ?? '') ? long[args[0]!] : undefined;
  const {output, exitCode} = own ? await own(args.slice(1)) : main(args);
  console.log(JSON.stringify(output, null, 2));
  process.exitCode = exitCode;
}

/** The headless door: core functions on files, JSON out. Exit 1 and a JSON error for bad input. */
import {readFileSync} from 'node:fs';
import {basename} from 'node:path';
import {describeImage} from './image-report';
import {describeNoise} from './noise-report';

const usage =
  'Usage: bidex image FILE [--base ADDRESS] [--against FILE] | bidex noise FILE --poles N [--at HZ,HZ] [--axis roll|pitch|yaw]';
const optionsOf: Readonly<Record<string, readonly string[]>> = {
  image: ['--base', '--against'],
  noise: ['--poles', '--at', '--axis'],
};

interface Outcome {
  readonly output: unknown;
  readonly exitCode: number;
}

export function main(args: readonly string[]): Outcome {
  const [command = '', file, ...rest] = args;
  const known = optionsOf[command];
  if (!known || !file) return fail('usage', usage);
  const options = new Map<string, string>();
  for (let i = 0; i < rest.length; i += 2) {
    const [name, value] = [rest[i]!, rest[i + 1]];
    if (!known.includes(name)) return fail('usage', `${name} is not an option of "${command}". ${usage}`);
    if (value === undefined) return fail('usage', `${name} needs a value. ${usage}`);
    options.set(name, value);
  }
  try {
    return command === 'image' ? image(file, options) : answer(describeNoise(read(file).toString('utf8'), options));
  } catch (error) {
    if (error instanceof FileError) return fail('file', error.message);
    throw error;
  }
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
  const {output, exitCode} = main(process.argv.slice(2));
  console.log(JSON.stringify(output, null, 2));
  process.exitCode = exitCode;
}

/** The headless door: core functions on files, JSON out. Exit 1 and a JSON error for bad input. */
import {readFileSync} from 'node:fs';
import {basename} from 'node:path';
import {describeImage} from './image-report';
import {describeNoise} from './noise-report';

const usage = 'Usage: bidex image FILE | bidex noise FILE --poles N [--at HZ,HZ] [--axis roll|pitch|yaw]';

export function main(args: readonly string[]): {output: unknown; exitCode: number} {
  const fail = (code: string, message: string) => ({output: {error: {code, message}}, exitCode: 1});
  const [command, file, ...rest] = args;
  if ((command !== 'image' && command !== 'noise') || !file) return fail('usage', usage);
  const options = new Map<string, string>();
  for (let i = 0; i < rest.length; i += 2) {
    const [name, value] = [rest[i]!, rest[i + 1]];
    if (!['--poles', '--at', '--axis'].includes(name) || command === 'image')
      return fail('usage', `${name} is not an option of "${command}". ${usage}`);
    if (value === undefined) return fail('usage', `${name} needs a value. ${usage}`);
    options.set(name, value);
  }
  let bytes: Buffer;
  try {
    bytes = readFileSync(file);
  } catch (error) {
    return fail('file', `${basename(file)} cannot be read: ${(error as Error).message}`);
  }
  const report = command === 'image' ? describeImage(bytes) : describeNoise(bytes.toString('utf8'), options);
  return {output: report.value, exitCode: report.ok ? 0 : 1};
}

if (process.argv[1]?.endsWith('bidex.ts')) {
  const {output, exitCode} = main(process.argv.slice(2));
  console.log(JSON.stringify(output, null, 2));
  process.exitCode = exitCode;
}

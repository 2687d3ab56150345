/** The headless door: core functions on files, JSON out. Exit code 1 and a JSON error for bad input. */
import {version} from '@core/words/version';
import {fail, FileError, outcome, UsageError, type Outcome, type Run} from './command';

interface Command {
  /** What it takes, as it is typed. */
  readonly usage: string;
  /** Whether it works on a file. */
  readonly file: boolean;
  /** Options with a value. */
  readonly options: readonly string[];
  /** Options without one. */
  readonly flags?: readonly string[];
  /** A command loads what it needs and no more. */
  readonly load: () => Promise<{readonly run: Run}>;
}

const commands: Readonly<Record<string, Command>> = {
  image: {
    usage: 'FILE [--base ADDRESS] [--against FILE]',
    ...{file: true, options: ['--base', '--against'], load: () => import('./image')},
  },
  noise: {
    usage: 'FILE --poles N [--before EARLIER] [--unit gyro=rad/s,speed=rpm] [--at HZ,HZ] [--filter PLAN.json]',
    ...{file: true, options: ['--poles', '--before', '--unit', '--at', '--filter'], load: () => import('./noise')},
  },
  chain: {
    usage: 'LOG --poles N [--delay-ms D] [--load-percent L]',
    ...{file: true, options: ['--poles', '--delay-ms', '--load-percent'], load: () => import('./chain')},
  },
  filter: {
    usage: '--type notch|lowpass1|lowpass2|lowpass3|biquad-lowpass --f0 HZ [--q Q] --fs HZ --at HZ,HZ',
    ...{file: false, options: ['--type', '--f0', '--q', '--fs', '--at'], load: () => import('./filter')},
  },
  capture: {
    usage: 'FILE [--poles N]',
    ...{file: true, options: ['--poles'], load: () => import('./capture')},
  },
  spin: {
    usage: 'TRACE.csv [--poles N] [--volts V]',
    ...{file: true, options: ['--poles', '--volts'], load: () => import('./spin')},
  },
  controller: {
    usage: 'FILE.toml [--against OTHER.toml] [--to VERSION]',
    ...{file: true, options: ['--against', '--to'], load: () => import('./controller')},
  },
  drill: {
    usage: '--runs N --seed N --craft juniper|sorrel|alder|bramble',
    ...{file: false, options: ['--runs', '--seed', '--craft'], load: () => import('./drill')},
  },
  calibrate: {
    usage: '--runs N --seed N [--of poleCount|pairs|amplitudes|cards]',
    ...{file: false, options: ['--runs', '--seed', '--of'], load: () => import('./calibrate')},
  },
  fuzz: {
    usage: '--runs N --seed N [--of KIND]',
    ...{file: false, options: ['--runs', '--seed', '--of'], load: () => import('./fuzz')},
  },
  bench: {
    usage: '--craft CRAFT --listen PORT|--serial PATH [--baud N] [--fault NAME]',
    ...{file: false, options: ['--craft', '--listen', '--serial', '--baud', '--fault'], load: () => import('./bench')},
  },
  bridge: {
    usage: '[--serial PATH|--connect HOST:PORT|--choose-in-page] [--baud N] [--listen PORT] [--page ORIGIN] [--stay]',
    ...{file: false, options: ['--serial', '--connect', '--baud', '--listen', '--page']},
    ...{flags: ['--choose-in-page', '--stay'], load: () => import('./bridge')},
  },
  'check-adapter': {
    usage:
      '--connect HOST:PORT|--serial PATH [--props-off] [--spare-esc] [--controller-image FILE] [--only RULE,RULE] [--json]',
    ...{file: false, options: ['--connect', '--serial', '--controller-image', '--only']},
    ...{flags: ['--props-off', '--spare-esc', '--json'], load: () => import('./check-adapter')},
  },
};

const usageOf = (name: string) => `bidex ${name} ${commands[name]!.usage}`;
const wholeUsage = () => `Usage: ${[...Object.keys(commands).map(usageOf), 'bidex --version'].join(' | ')}`;

export async function main([name = '', ...others]: readonly string[]): Promise<Outcome> {
  if (name === '--version') return outcome({ok: true, value: {version}});
  const command = Object.hasOwn(commands, name) ? commands[name]! : undefined;
  if (!command) return outcome(fail('usage', wholeUsage()));
  const [file, ...rest] = command.file ? others : ['', ...others];
  try {
    if (file === undefined) throw new UsageError();
    const options = readOptions(name, command, rest);
    const {run} = await command.load();
    return await run({file, options});
  } catch (error) {
    if (error instanceof FileError) return outcome(fail('file', error.message));
    if (error instanceof UsageError)
      return outcome(fail('usage', `${error.message ? `${error.message} ` : ''}Usage: ${usageOf(name)}`));
    throw error;
  }
}

function readOptions(
  command: string,
  {options: known, flags}: Command,
  rest: readonly string[],
): ReadonlyMap<string, string> {
  const options = new Map<string, string>();
  for (let i = 0; i < rest.length; i++) {
    const name = rest[i]!;
    if (flags?.includes(name)) {
      options.set(name, '');
      continue;
    }
    const value = rest[++i];
    if (!known.includes(name)) throw new UsageError(`${name} is not an option of "${command}".`);
    if (value === undefined) throw new UsageError(`${name} needs a value.`);
    options.set(name, value);
  }
  return options;
}

// What npm start and npm test share before anything is installed: plain Node, no packages.
import {execFileSync, spawnSync} from 'node:child_process';
import {createHash} from 'node:crypto';
import {existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync} from 'node:fs';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';

/** Runs a command with its output shown; ends the program when it fails. */
export function run(command, args, options = {}) {
  const {status} = spawnSync(command, args, {cwd: root, stdio: 'inherit', ...options});
  if (status !== 0) {
    console.error(`\n${command} ${args.join(' ')} failed.`);
    process.exit(status ?? 1);
  }
}

/** Installs the packages of package-lock.json unless they are already there. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.bidex-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages ...');
  run(npm, ['ci', '--no-fund', '--no-audit', '--loglevel=error']);
  writeFileSync(stamp, lock);
}

const sources = [
  'app',
  'core',
  'simulator',
  'demo/craft',
  'tools/setup.mjs',
  'angular.json',
  'tsconfig.json',
  'tsconfig.app.json',
  'tsconfig.worker.json',
  'package-lock.json',
];

function* filesOf(path) {
  if (statSync(path).isFile()) yield path;
  else for (const name of readdirSync(path)) yield* filesOf(join(path, name));
}

/** Builds the application unless the last build is of these very sources. */
export function buildApplication() {
  const hash = createHash('sha256');
  for (const source of sources)
    for (const file of filesOf(join(root, source)))
      if (!/\.(test|spec)\.ts$/.test(file)) hash.update(file.slice(root.length)).update(readFileSync(file));
  const digest = hash.digest('hex');
  const stamp = join(root, 'dist', 'sources.sha256');
  if (
    existsSync(stamp) &&
    readFileSync(stamp, 'utf8') === digest &&
    existsSync(join(root, 'dist/app/browser/index.html'))
  )
    return;
  console.log('Building the application ...');
  run(process.execPath, ['node_modules/@angular/cli/bin/ng.js', 'build', '--progress=false'], {
    // The bundler's second pass brings what the first view is made of into one file: 45 took half of its time.
    env: {...process.env, NG_CLI_ANALYTICS: 'false', NG_BUILD_OPTIMIZE_CHUNKS: 'true'},
  });
  mkdirSync(join(root, 'dist'), {recursive: true});
  writeFileSync(stamp, digest);
}

/** Installs Debian's socat, which joins two pseudo-terminals, where it is missing and this user may. */
export function installSocat() {
  if (['/usr/bin/socat', '/bin/socat', '/usr/local/bin/socat', '/opt/homebrew/bin/socat'].some((p) => existsSync(p)))
    return;
  console.log('Installing socat with apt ...');
  const env = {...process.env, DEBIAN_FRONTEND: 'noninteractive'};
  try {
    execFileSync('apt-get', ['update', '-qq'], {stdio: 'ignore', env});
    execFileSync('apt-get', ['install', '-y', '-qq', 'socat'], {stdio: ['ignore', 'ignore', 'inherit'], env});
  } catch {
    console.error('socat is missing and could not be installed. Run "apt-get install socat" as root.');
    process.exit(1);
  }
}

/**
 * Path of Chromium; installs Debian's when it is missing and this user may. Its program without windows takes a sixth less
 * of the machine for the same pages.
 */
export function chromiumPath() {
  const places = ['/usr/lib/chromium/chromium-headless-shell', '/usr/bin/chromium', '/usr/bin/chromium-browser'];
  const find = () => places.find((p) => existsSync(p));
  const found = process.env.CHROMIUM ?? find();
  if (found) return found;
  console.log('Installing Chromium with apt ...');
  const env = {...process.env, DEBIAN_FRONTEND: 'noninteractive'};
  const apt = (args, stdout) => execFileSync('apt-get', args, {stdio: ['ignore', stdout, 'inherit'], env});
  const install = (...names) => apt(['install', '-y', '-qq', ...names], 'ignore');
  try {
    apt(['update', '-qq'], 'inherit');
    install('chromium');
  } catch {
    console.error(
      'Chromium is missing and could not be installed. Run "apt-get install chromium" as root, or set CHROMIUM to its path.',
    );
    process.exit(1);
  }
  try {
    install('chromium-headless-shell');
  } catch {
    // Not every release of Debian has it apart; the whole browser does the same.
  }
  return find();
}

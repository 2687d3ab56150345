// npm test: types, lint, arrows, unit tests, production build, Playwright; one closing line over all runners.
import {spawn} from 'node:child_process';
import {existsSync, readFileSync, rmSync} from 'node:fs';
import {join} from 'node:path';
import {chromiumPath, installPackages, installSocat, root} from './setup.mjs';

const began = Date.now();
installPackages();
const chromium = chromiumPath();
installSocat();
const reports = join(root, 'test-results');
rmSync(reports, {recursive: true, force: true});
let passed = 0;
let failed = 0;

const bin = (name) => join('node_modules', '.bin', name);
const seconds = (since) => ((Date.now() - since) / 1000).toFixed(1);

/** Runs a check; its output comes in one piece when it ends, or as it goes when nothing else runs beside it. */
function check(name, command, args, {env = {}, live = false} = {}) {
  const start = Date.now();
  const child = spawn(command, args, {cwd: root, stdio: live ? 'inherit' : 'pipe', env: {...process.env, ...env}});
  const output = [];
  child.stdout?.on('data', (data) => output.push(data));
  child.stderr?.on('data', (data) => output.push(data));
  return new Promise((resolve) => {
    child.on('close', (status) => {
      process.stdout.write(Buffer.concat(output));
      console.log(`${status === 0 ? 'ok' : 'FAILED'}  ${name}  ${seconds(start)} s`);
      resolve(status === 0);
    });
  });
}

/** A check that counts as one. */
const count = async (...args) => ((await check(...args)) ? passed++ : failed++);

/** Counts of a runner's JSON report; a runner that wrote none, or ran nothing, has failed. */
function tally(file, read) {
  if (!existsSync(file)) return void failed++;
  const [p, f] = read(JSON.parse(readFileSync(file, 'utf8')));
  passed += p;
  failed += f;
  if (p + f === 0) failed++;
}
/** A file that does not even load counts as one failure. */
const countVitest = (r) => [r.numPassedTests, r.numFailedTests + (r.numFailedTests === 0 ? r.numFailedTestSuites : 0)];

async function staticChecks() {
  // What did not change since the last run is not looked at again.
  const cache = join('node_modules', '.cache');
  // The compiler that is a program of its own takes a fifth of the time; Angular builds with the one in JavaScript.
  const tsc = join('node_modules', 'typescript-native', 'bin', 'tsc');
  for (const project of ['tsconfig.pure.json', 'tsconfig.node.json', 'tsconfig.worker.json', 'tsconfig.spec.json'])
    await count(`types of ${project}`, process.execPath, [tsc, '-p', project, '--noEmit']);
  await count('lint', bin('oxlint'), ['--type-aware', '--deny-warnings']);
  const kept = ['--cache', '--cache-strategy', 'content', '--cache-location', join(cache, 'eslint')];
  await count('lint of components and templates', bin('eslint'), ['app', '--max-warnings=0', ...kept]);
  await count('format', bin('oxfmt'), ['--check']);
  await count('arrows', bin('depcruise'), [
    'core',
    'simulator',
    'app',
    'server',
    'tools',
    'demo',
    '--config',
    '.dependency-cruiser.cjs',
  ]);
}

async function unitTests() {
  const unit = join(reports, 'vitest.json');
  await check('unit tests', bin('vitest'), ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`]);
  tally(unit, countVitest);
}

/** What Angular's own tools do, one after the other: they share a cache. */
async function application() {
  await check('application unit tests', process.execPath, ['node_modules/@angular/cli/bin/ng.js', 'test'], {
    env: {NG_CLI_ANALYTICS: 'false'},
  });
  tally(join(reports, 'app.json'), countVitest);
  if (!(await check('build', process.execPath, ['tools/build.mjs']))) failed++;
}

/** A project of its own run: what fails in one hides nothing of the other. */
async function browserTests(project) {
  const browser = join(reports, `playwright-${project}.json`);
  await check(`browser tests, ${project}`, bin('playwright'), ['test', `--project=${project}`], {
    env: {CHROMIUM: chromium, PLAYWRIGHT_JSON_OUTPUT_NAME: browser},
    live: true,
  });
  tally(browser, (r) => [r.stats.expected, r.stats.unexpected + r.stats.flaky + r.errors.length]);
}

// Two cores: everything that only computes side by side; the browser has the machine to itself.
await Promise.all([staticChecks(), unitTests(), application()]);
await browserTests('timed');
await browserTests('serial');
await browserTests('all');

console.log(`\nAll checks took ${Math.round((Date.now() - began) / 1000)} s.`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);

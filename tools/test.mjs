// npm test: types, lint, arrows, unit tests, production build, Playwright; one closing line over all runners.
import {spawnSync} from 'node:child_process';
import {existsSync, readFileSync, rmSync} from 'node:fs';
import {join} from 'node:path';
import {buildApplication, chromiumPath, installPackages, root} from './setup.mjs';

const began = Date.now();
installPackages();
const chromium = chromiumPath();
let passed = 0;
let failed = 0;

function check(name, command, args, env = {}) {
  const start = Date.now();
  const {status} = spawnSync(command, args, {cwd: root, stdio: 'inherit', env: {...process.env, ...env}});
  console.log(`${status === 0 ? 'ok' : 'FAILED'}  ${name}  ${((Date.now() - start) / 1000).toFixed(1)} s`);
  return status === 0;
}
const count = (ok) => (ok ? passed++ : failed++);
const bin = (name) => join('node_modules', '.bin', name);

for (const project of [
  'core/tsconfig.json',
  'simulator/tsconfig.json',
  'tsconfig.node.json',
  'tsconfig.worker.json',
  'tsconfig.spec.json',
])
  count(check(`types of ${project}`, bin('tsc'), ['-p', project, '--noEmit']));
count(check('lint', bin('eslint'), ['.', '--max-warnings=0']));
count(check('format', bin('prettier'), ['--check', '--log-level=warn', '.']));
count(
  check('arrows', bin('depcruise'), [
    'core',
    'simulator',
    'app',
    'server',
    'tools',
    '--config',
    '.dependency-cruiser.cjs',
  ]),
);

/** Counts of a runner's JSON report; a runner that wrote none has failed. */
function tally(file, read) {
  if (!existsSync(file)) return void failed++;
  const [p, f] = read(JSON.parse(readFileSync(file, 'utf8')));
  passed += p;
  failed += f;
  if (p + f === 0) failed++;
}
/** A file that does not even load counts as one failure. */
const countVitest = (r) => [r.numPassedTests, r.numFailedTests + (r.numFailedTests === 0 ? r.numFailedTestSuites : 0)];
const reports = join(root, 'test-results');
rmSync(reports, {recursive: true, force: true});
const unit = join(reports, 'vitest.json');
check('unit tests', bin('vitest'), ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`]);
tally(unit, countVitest);

const app = join(reports, 'app.json');
check('application unit tests', process.execPath, ['node_modules/@angular/cli/bin/ng.js', 'test'], {
  NG_CLI_ANALYTICS: 'false',
});
tally(app, countVitest);

buildApplication();
const browser = join(reports, 'playwright.json');
check('browser tests', bin('playwright'), ['test'], {
  CHROMIUM: chromium,
  PLAYWRIGHT_JSON_OUTPUT_NAME: browser,
});
tally(browser, (r) => [r.stats.expected, r.stats.unexpected + r.stats.flaky + r.errors.length]);

console.log(`\nAll checks took ${Math.round((Date.now() - began) / 1000)} s.`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);

// The page's part of npm run bench: what the timed browser tests print of how long things took.
import {spawnSync} from 'node:child_process';
import {join} from 'node:path';
import {buildApplication, chromiumPath, root} from './setup.mjs';

buildApplication();
const env = {...process.env, CHROMIUM: chromiumPath()};
const {stdout, status} = spawnSync(
  join(root, 'node_modules', '.bin', 'playwright'),
  ['test', '--project=timed', '--reporter=line'],
  {cwd: root, env, encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit']},
);
const isFigure = (line) => / ms\b/.test(line);
console.log(`\n${stdout.split('\n').filter(isFigure).join('\n')}`);
process.exit(status ?? 1);

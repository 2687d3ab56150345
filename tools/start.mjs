// npm start: installs, builds when stale, serves.
import {spawn} from 'node:child_process';
import {buildApplication, installPackages, root} from './setup.mjs';

installPackages();
buildApplication();
const server = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {cwd: root, stdio: 'inherit'});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

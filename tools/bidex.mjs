// The headless door. It is compiled again only where a file that is in it was changed: a start costs little more than Node's.
import {readFileSync, statSync} from 'node:fs';
import {join} from 'node:path';
import {fileURLToPath, pathToFileURL} from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const pointer = join(root, 'node_modules', '.cache', 'door', 'compiled.json');

/** What stands compiled; undefined where there is none, or a file of it was changed since. */
function compiled() {
  try {
    const {main, changedAt} = JSON.parse(readFileSync(pointer, 'utf8'));
    return Object.entries(changedAt).every(([file, at]) => statSync(file).mtimeMs === at) ? main : undefined;
  } catch (error) {
    if (error.code === 'ENOENT') return undefined;
    throw error;
  }
}

async function compile() {
  const {tsImport} = await import('tsx/esm/api');
  const {compileDoor} = await tsImport('./compile.ts', import.meta.url);
  await compileDoor(root, pointer);
  return compiled();
}

await import(pathToFileURL(compiled() ?? (await compile())));

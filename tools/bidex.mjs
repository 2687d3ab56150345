// The headless door. It is compiled again only where a file that is in it was changed: a start costs little more than Node's.
import {readFileSync, statSync} from 'node:fs';
import {join} from 'node:path';
import {fileURLToPath, pathToFileURL} from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const pointer = join(root, 'node_modules', '.cache', 'door', 'compiled.json');

/** What stands compiled; undefined where there is none, a file of it was changed since, or it came here with a copied folder. */
function compiled() {
  try {
    const {root: of, main, changedAt} = JSON.parse(readFileSync(pointer, 'utf8'));
    const isFresh = ([file, at]) => statSync(file).mtimeMs === at;
    return of === root && statSync(main) && Object.entries(changedAt).every(isFresh) ? main : undefined;
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

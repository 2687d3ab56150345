import {execFileSync, spawnSync} from 'node:child_process';
import {existsSync, mkdtempSync, readFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';
import {expect, it} from 'vitest';
import {compileDoor, type CompiledDoor} from './compile';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'bidex-'));

it('the compiled door answers, and knows every file that is in it; an older one goes', async () => {
  const pointer = join(folder, 'door', 'compiled.json');
  const mains = [];
  for (let i = 0; i < 3; i++) {
    await compileDoor(root, pointer);
    const {root: of, main, changedAt} = JSON.parse(readFileSync(pointer, 'utf8')) as CompiledDoor;
    expect(of).toBe(root);
    expect(changedAt).toMatchObject({
      [join(root, 'tools/door/filter.ts')]: expect.any(Number),
      [join(root, 'core/filters/section.ts')]: expect.any(Number),
    });
    mains.push(main);
  }
  expect(mains.map((main) => existsSync(main))).toEqual([false, true, true]);
  const asked = ['filter', '--type', 'lowpass1', '--f0', '100', '--fs', '8000', '--at', '0'];
  expect(JSON.parse(execFileSync('node', [mains[2]!, ...asked], {encoding: 'utf8'}))).toMatchObject({at: [{hz: 0}]});
  expect(spawnSync('node', [mains[2]!, 'nothing'], {encoding: 'utf8'})).toMatchObject({
    ...{status: 1, stdout: expect.stringContaining('Usage: bidex image FILE')},
  });
});

/** One version: of the package, of the program, and of the newest entry of the changes. */
import {readFileSync} from 'node:fs';
import {fileURLToPath} from 'node:url';
import {expect, it} from 'vitest';
import {version} from '@core/words/version';
import {main} from './door/door';

const text = (name: string) => readFileSync(fileURLToPath(new URL(`../${name}`, import.meta.url)), 'utf8');

it('the package, the program, its door and the changes have one version', async () => {
  expect((JSON.parse(text('package.json')) as {version: string}).version).toBe(version);
  expect(/^## (.*)$/m.exec(text('CHANGELOG.md'))![1]).toBe(version);
  expect(await main(['--version'])).toMatchObject({exitCode: 0, output: {version}});
});

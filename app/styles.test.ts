/** A style sheet names no raw colour: colours are tokens, so that light, dark and print stay one sheet each. */
import {readdirSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import {expect, it} from 'vitest';

const raw = /#[0-9a-f]{3,8}\b|\b(?:rgb|hsl)a?\(/gi;
const here = import.meta.dirname;

/** The style text of a file: a whole sheet, or what stands in the `styles` of a component. */
function stylesOf(file: string): string {
  const text = readFileSync(join(here, file), 'utf8');
  if (file.endsWith('.css')) return text;
  return [...text.matchAll(/styles:\s*(`[^`]*`|'[^']*')/g)].map((m) => m[1]).join('\n');
}

it('names no raw colour outside the tokens', () => {
  const files = readdirSync(here, {recursive: true, encoding: 'utf8'}).filter(
    (f) => /\.component\.ts$|\.css$/.test(f) && f !== 'styles.css',
  );
  expect(files.length).toBeGreaterThan(30);
  const found = files.flatMap((f) => [...stylesOf(f).matchAll(raw)].map((m) => `${f}: ${m[0]}`));
  expect(found).toEqual([]);
  const sheet = readFileSync(join(here, 'styles.css'), 'utf8');
  const behindTokens = sheet.slice(sheet.indexOf('@layer sheet {'));
  expect([...behindTokens.matchAll(raw)].map((m) => m[0])).toEqual([]);
});

/** A style sheet names no raw colour, type size or space: they are tokens, so that light, dark and print stay one sheet each. */
import {readdirSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import {expect, it} from 'vitest';
import {inUse} from './theme';

const raw = /#[0-9a-f]{3,8}\b|\b(?:rgb|hsl)a?\(/gi;
const here = import.meta.dirname;

/** The style text of a file: a whole sheet, or what stands in the `styles` of a component. */
function stylesOf(file: string): string {
  const text = readFileSync(join(here, file), 'utf8');
  if (file.endsWith('.css')) return text;
  return [...text.matchAll(/styles:\s*(`[^`]*`|'[^']*')/g)].map((m) => m[1]).join('\n');
}

/** Style texts of the components, and of the common sheet behind its tokens. */
function sheets(): {file: string; text: string}[] {
  const files = readdirSync(here, {recursive: true, encoding: 'utf8'}).filter(
    (f) => /\.component\.ts$|\.css$/.test(f) && f !== 'styles.css',
  );
  expect(files.length).toBeGreaterThan(30);
  const sheet = readFileSync(join(here, 'styles.css'), 'utf8');
  const common = {file: 'styles.css', text: sheet.slice(sheet.indexOf('@layer sheet {'))};
  return [...files.map((file) => ({file, text: stylesOf(file)})), common];
}

const named = (pattern: RegExp) =>
  sheets().flatMap(({file, text}) => [...text.matchAll(pattern)].map((m) => `${file}: ${m[0]}`));

it('names no raw colour outside the tokens', () => {
  expect(named(raw)).toEqual([]);
});

it('names no type size outside the tokens', () => {
  expect(named(/font(?:-size)?: [^;{}]*\d(?:px|rem|pt)/g)).toEqual([]);
});

it('has six type sizes, none below 11 px, in sheets and charts alike', () => {
  const tokens = readFileSync(join(here, 'styles.css'), 'utf8');
  const sizes = [...tokens.matchAll(/--fs-\w+: ([\d.]+)px/g)].map((m) => Number(m[1]));
  expect(sizes).toEqual([11, 12, 13, 14, 17, 21]);
  const files = readdirSync(here, {recursive: true, encoding: 'utf8'}).filter((f) => f.endsWith('.ts'));
  const drawn = files.flatMap((f) =>
    [...readFileSync(join(here, f), 'utf8').matchAll(/fontSize: ([\d.]+)|([\d.]+)px "Atkinson/g)].map((m) => ({
      ...{file: f, size: Number(m[1] ?? m[2])},
    })),
  );
  expect(drawn.length).toBeGreaterThan(5);
  expect(drawn.filter(({size}) => !sizes.includes(size))).toEqual([]);
});

it('names no space up to 30 px outside the tokens, but for a hair of 1 px', () => {
  const spaces = named(/(?<![\w-])(?:(?:row-|column-)?gap|(?:padding|margin)(?:-[a-z-]+)?): [^;{}]+/g);
  expect(spaces.length).toBeGreaterThan(200);
  const raws = spaces.filter((s) =>
    [...s.matchAll(/(?<![\w.-])(\d+(?:\.\d+)?)px/g)].some(([, n]) => +n! > 1 && +n! <= 30),
  );
  expect(raws).toEqual([]);
});

it('folds the docket and shortens the route at one width', () => {
  const narrow = /const narrowPx = (\d+);/.exec(readFileSync(join(here, 'shared/screen-width.ts'), 'utf8'))?.[1];
  const asked = named(/max-width: \d+px\) \{/g).map((m) => /\d+/.exec(m.split(': max')[1]!)![0]);
  expect(asked.length).toBeGreaterThan(2);
  expect(new Set(asked)).toEqual(new Set([narrow]));
});

it('the theme has tokens for every component that is used', () => {
  const files = readdirSync(here, {recursive: true, encoding: 'utf8'}).filter((f) => f.endsWith('.ts'));
  const texts = files.map((f) => readFileSync(join(here, f), 'utf8')).join('\n');
  const names = new Set([...texts.matchAll(/from 'primeng\/(\w+)'/g)].map((m) => m[1]!));
  // Their names among the tokens; the library's own parts have none.
  const tokens = [...names]
    .filter((name) => name !== 'api' && name !== 'config')
    .map((name) => ({table: 'datatable', scroller: 'virtualscroller'})[name] ?? name);
  expect(tokens.length).toBeGreaterThan(7);
  expect(tokens.filter((name) => !(name in inUse))).toEqual([]);
});

it('what scrolls up and down holds what stands outside of its flow, so that no page grows taller than its window', () => {
  const blocks = sheets().flatMap(({file, text}) =>
    [...text.matchAll(/[^{}]*\{[^{}]*overflow(?:-y)?: auto;[^{}]*\}/g)].map(([block]) => ({file, block})),
  );
  expect(blocks.length).toBeGreaterThan(5);
  const holds = ({file, block}: (typeof blocks)[number]) =>
    // The library places its menu itself.
    /position: (relative|absolute|fixed|sticky)/.test(block) || (file === 'styles.css' && block.includes('.p-menu'));
  expect(blocks.filter((b) => !holds(b)).map(({file, block}) => `${file}: ${block.trim()}`)).toEqual([]);
});

/** What every template of the application keeps to. */
import {readdirSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import {expect, it} from 'vitest';

const here = import.meta.dirname;
/** Rows that are numbers are the same rows as long as they are the same numbers. */
const rowsOfNumbers = ['shelf/hex-difference.component.ts'];

it('every table tells its rows apart, so that it builds none anew while a button of it is being pressed', () => {
  const templates = readdirSync(here, {recursive: true, encoding: 'utf8'}).filter((f) =>
    /\.component\.(html|ts)$/.test(f),
  );
  const tables = templates.flatMap((file) =>
    [...readFileSync(join(here, file), 'utf8').matchAll(/<p-table\b(?:"[^"]*"|[^">])*>/g)].map(([tag]) => ({
      file,
      tag,
    })),
  );
  expect(tables.length).toBeGreaterThan(2);
  expect(tables.filter(({file, tag}) => !tag.includes('[rowTrackBy]') && !rowsOfNumbers.includes(file))).toEqual([]);
});

import {expect, it} from 'vitest';
import {jsonPieces, Listed} from './print-json';

it('a long list is printed entry by entry, as JSON that reads back', () => {
  const made: number[] = [];
  const list = new Listed(
    [3, 1, 2],
    (value, i) => {
      made.push(i);
      return {i, value, 'left out': undefined};
    },
    true,
  );
  const value = {
    a: [],
    list,
    none: new Listed([], (n) => n),
    nested: new Listed([[1], []], (entry) => ({entry})),
    text: 'ä"\n',
    deep: {o: {}, n: null, gone: undefined},
  };
  const text = [...jsonPieces(value)].join('');
  expect(JSON.parse(text)).toEqual(JSON.parse(JSON.stringify(value)));
  expect(text).toContain('\n    {"i":0,"value":3},\n    {"i":1,"value":1},\n');
  const pieces = jsonPieces(new Listed(Array.from({length: 100_000}), (_, i) => made.push(i) && 'x'.repeat(10), true));
  made.length = 0;
  pieces.next();
  expect(made.length).toBeLessThan(10_000);
});

import {expect, it} from 'vitest';
import {TimeList} from './time-list';

/** Lengths around the ends of a block and of the room that it grows in. */
it.each([0, 1, 16, 17, 65_535, 65_536, 65_537, 200_000, 5_000_000])('%d times come back in their order', (count) => {
  const list = new TimeList();
  for (let i = 0; i < count; i++) list.push(i / 8);
  expect(list.length).toBe(count);
  const all = list.take();
  expect(all.length).toBe(count);
  expect(all.findIndex((time, i) => time !== i / 8)).toBe(-1);
  // An array of its own length, that can be handed to a worker and never changes its size.
  expect(all.buffer.byteLength).toBe(8 * count);
  expect(list.length).toBe(0);
  list.push(7);
  expect([...list.take()]).toEqual([7]);
});

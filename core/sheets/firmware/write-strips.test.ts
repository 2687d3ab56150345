/** The strips of an order that writes: pages, bytes, what is left, and how each stands. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import type {WorkOrder} from '../../order/work-order';
import type {JournalEntry} from '../../run/journal';
import type {Progress} from '../../run/runner';
import {stripId, writeStrips} from './write-strips';

const juniper = await new Harness().order();
const bramble = await new Harness({craft: demoCraft('bramble')}).order();

const at = (stepId: string, pagesDone: number, more: Partial<Progress> = {}): Progress => ({
  ...{stepId, share: 0, text: '', pagesDone, pagesTotal: 17, leftMs: 5300},
  ...{bytesDone: pagesDone * 1024 + 512, bytesTotal: 17 * 1024},
  ...more,
});
const said = (stepId: string, event: JournalEntry['event']): JournalEntry => ({
  ...{orderId: 'o', at: 1, text: '', stepId, event},
});
const strips = (order: WorkOrder, working: readonly Progress[] = [], journal: readonly JournalEntry[] = []) =>
  writeStrips({
    ...{last: undefined, open: {order}, isRunning: true, draft: undefined, keepsPlan: false, journal},
    ...{stepStates: {}, progress: undefined, problem: undefined},
    working: Object.fromEntries(working.map((p) => [p.stepId, p])),
  });

describe('write strips', () => {
  it('one for each ESC, waiting before it is its turn', () => {
    const all = strips(juniper);
    expect(all.map((s) => s.name)).toEqual(['Motor 1', 'Motor 2', 'Motor 3', 'Motor 4']);
    expect(all[2]).toMatchObject({image: 'Meridian 4.2', words: 'waits for its turn', bytes: '', left: ''});
  });

  it('at work: the page, the bytes, the seconds that are left', () => {
    const [first] = strips(juniper, [at('write-0', 4)]);
    expect(first).toMatchObject({
      ...{words: 'page 5 of 17', bytes: '4.5 of 17.0 KiB', left: 'about 6 s left', done: 4, pages: 17},
    });
  });

  it('a reply module shares the strip of its ESC', () => {
    const all = strips(bramble, [at('write-0-module', 2, {pagesTotal: 5})], [said('write-0', 'done')]);
    expect(all).toHaveLength(4);
    expect(all[0]).toMatchObject({image: 'Meridian 3.9, then reply module 1.1', words: 'page 22 of 24'});
    expect(stripId('write-0-module')).toBe(all[0]!.id);
  });

  it('tell paused, done, isolated and stopped apart', () => {
    const all = strips(
      juniper,
      [at('write-0', 3, {paused: true}), at('write-2', 20, {pagesTotal: 33})],
      [said('write-1', 'done'), said('write-2', 'isolated'), said('write-3', 'page'), said('write-3', 'stopped')],
    );
    expect(all.map((s) => s.words)).toEqual([
      'paused after page 3 of 17',
      expect.stringMatching(/^✓ \d+ pages written and checked$/),
      'isolated at page 21 of 33',
      expect.stringMatching(/^stopped after page 1 of \d+$/),
    ]);
  });

  it('none without an order', () =>
    expect(
      writeStrips({
        ...{last: undefined, open: undefined, isRunning: false, draft: undefined, keepsPlan: false, journal: []},
        ...{stepStates: {}, progress: undefined, problem: undefined, working: {}},
      }),
    ).toEqual([]));
});

/** The strips of a running order: pages, bytes, time left, sign of life, isolation. */
import {computed, signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import type {JournalEntry} from '@core/run/journal';
import type {Progress} from '@core/run/runner';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {WorkStore} from '../../state/work.store';
import {textOf} from '../../testing/fakes';
import {WriteStripsComponent} from './write-strips.component';

const bramble = await new Harness({craft: demoCraft('bramble')}).order();
const juniper = await new Harness().order();

function strips(order: typeof juniper, working: Progress[] = [], journal: Partial<JournalEntry>[] = []) {
  const running = signal<Record<string, Progress>>(Object.fromEntries(working.map((p) => [p.stepId, p])));
  const work = {
    working: running,
    now: computed(() => ({open: {order}, isRunning: true, journal: journal as JournalEntry[], working: running()})),
  };
  TestBed.configureTestingModule({providers: [{provide: WorkStore, useValue: work}]});
  const fixture = TestBed.createComponent(WriteStripsComponent);
  fixture.detectChanges();
  const all = [...(fixture.nativeElement as HTMLElement).querySelectorAll('.strip')];
  return {fixture, work, all, texts: all.map(textOf)};
}
const at = (stepId: string, pagesDone: number, more: Partial<Progress> = {}): Progress => ({
  stepId,
  share: 0,
  text: '',
  pagesDone,
  pagesTotal: 17,
  bytesDone: pagesDone * 1024 + 512,
  bytesTotal: 17 * 1024,
  leftMs: 5300,
  ...more,
});

describe('write strips', () => {
  it('one for each ESC, waiting before it is its turn', () => {
    const {texts} = strips(juniper);
    expect(texts).toHaveLength(4);
    expect(texts[2]).toMatch(/^Motor 3 ?Meridian 4\.2 ?waits for its turn$/);
  });

  it('show pages, bytes, time left and when bytes moved last', () => {
    const {texts, all} = strips(juniper, [at('write-0', 4)]);
    expect(texts[0]).toMatch(/page 5 of 17 ?4\.5 of 17\.0 KiB ?about 6 s left ?last bytes \d\.\d s ago/);
    expect(all[0]!.querySelectorAll('rect.full')).toHaveLength(4);
    expect(all[0]!.querySelectorAll('rect.now')).toHaveLength(1);
  });

  it('a reply module shares the strip of its ESC', () => {
    const {texts, all} = strips(
      bramble,
      [at('write-0-module', 2, {pagesTotal: 5})],
      [{stepId: 'write-0', event: 'done', orderId: 'o', at: 1, text: ''}],
    );
    expect(all).toHaveLength(4);
    expect(texts[0]).toMatch(/Meridian 3\.9, then reply module 1\.1 ?page 22 of 24/);
  });

  it('tell paused, done and isolated apart in words', () => {
    const {texts} = strips(
      juniper,
      [at('write-0', 3, {paused: true}), at('write-2', 20, {pagesTotal: 33})],
      [
        {stepId: 'write-1', event: 'done'},
        {stepId: 'write-2', event: 'isolated'},
      ],
    );
    expect(texts[0]).toContain('paused after page 3 of 17');
    expect(texts[1]).toContain('✓ 17 pages written and checked');
    expect(texts[2]).toContain('isolated at page 21 of 33');
  });
});

/** The drill in small, and proof that it finds what it looks for. `bidex drill --runs 5000` is the large one. */
import {describe, expect, it} from 'vitest';
import {chips} from '@core/firmware/chips';
import {MemoryJournal} from '@core/work/journal';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {meridianImage} from '@simulator/meridian';
import {drill, DrillRun} from './drill';
import {makeScenario} from './scenario';
import {Witness} from './witness';

const none = {bricked: 0, wrongImageRun: 0, settingsLost: 0, untrueAccounts: 0, unresolved: 0};

describe('random work orders against random mishaps', () => {
  it.each(['juniper', 'sorrel', 'alder', 'bramble'])('%s: nothing bricked, lost or untrue', async (craft) => {
    const {report, notes} = await drill({craft, runs: 12, seed: 20261123});
    expect(report, `seeds ${notes.seeds.join(', ')}`).toEqual({runs: 12, ...none});
    expect(notes.interruptions).toBeGreaterThan(0);
  });

  it('the same seed gives the same run', async () => {
    const runs = [1, 2].map(() => drill({craft: 'juniper', runs: 2, seed: 9}));
    const [a, b] = await Promise.all(runs);
    expect(a).toEqual(b);
  });
});

describe('the drill finds', () => {
  it('a journal that claims a page before it is written', async () => {
    const early = new DrillRun(makeScenario('juniper', 4), 4, (entry) =>
      entry.event === 'begin' && entry.stepId.startsWith('write-') ? {...entry, event: 'done'} : entry,
    );
    expect((await early.go()).untrue.length).toBeGreaterThan(0);
  });

  it('a journal that names the wrong page', async () => {
    const moved = new DrillRun(makeScenario('sorrel', 4), 4, (entry) =>
      entry.address === undefined ? entry : {...entry, address: entry.address ^ 0x200},
    );
    expect((await moved.go()).untrue.length).toBeGreaterThan(0);
  });

  it('a harmed bootloader, a wrong image, lost settings', async () => {
    const h = new Harness();
    const witness = new Witness(h.bench, (sha256) => shelf.image(sha256));
    const order = await h.order();
    expect([witness.bricked(), witness.wrongImages(), witness.lostSettings(order, [])]).toEqual([0, 0, 0]);
    const [first, second, third] = h.bench.escs;
    first!.flash.bytes[10]! ^= 1;
    second!.flash.bytes.set(
      meridianImage('4.2', {board: 'Basalt 30', deadTimeNs: 30}).segments[0]!.bytes,
      chips.M32.application.start,
    );
    second!.start();
    third!.flash.erase(chips.M32.settings.start);
    expect([witness.bricked(), witness.wrongImages(), witness.lostSettings(order, [])]).toEqual([1, 1, 1]);
    const journal = new MemoryJournal();
    const page = order.found.escs[2]!.settingsPage;
    const snapshot = [{serial: 'x', output: 2, page}];
    await journal.append({orderId: 'o', at: 0, stepId: 'snapshot', event: 'done', text: '', snapshot});
    expect(witness.lostSettings(order, await journal.entries('o'))).toBe(0);
  });
});

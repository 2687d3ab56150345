/** The drill in small, and proof that each of its counters can rise. `bidex drill --runs 5000` is the large one. */
import {describe, expect, it, vi} from 'vitest';
import {chips} from '@core/firmware/chips';
import {ProblemError} from '@core/problem';
import {MemoryJournal} from '@core/run/journal';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {meridianImage} from '@simulator/firmware/meridian';
import {zeroCounters} from './counters';
import {drill} from './drill';
import {DrillRun} from './drill-run';
import type {Sabotage} from './sabotage';
import {makeScenario} from './scenario';
import {Witness} from './witness';

describe('random work orders against random mishaps', () => {
  it.each(['juniper', 'sorrel', 'alder', 'bramble'])('%s: nothing bricked, lost, untrue or turning', async (craft) => {
    const {report, notes} = await drill({craft, runs: 8, seed: 20261123});
    expect(report, `seeds ${notes.seeds.join(', ')}`).toEqual({runs: 8, ...zeroCounters()});
    expect(notes.interruptions).toBeGreaterThan(0);
  });

  it('the same seed gives the same run, and nothing else of the program enters it', async () => {
    const refuse = () => {
      throw new Error('Something of the run is not its own');
    };
    const outside = [vi.spyOn(Math, 'random'), vi.spyOn(Date, 'now')].map((spy) => spy.mockImplementation(refuse));
    const runs = [1, 2].map(() => drill({craft: 'juniper', runs: 2, seed: 9}));
    const [a, b] = await Promise.all(runs).finally(() => outside.forEach((o) => o.mockRestore()));
    expect(a).toEqual(b);
  });
});

describe('the drill finds', () => {
  const countOf = async (craft: string, seed: number, sabotage: Sabotage) =>
    (await new DrillRun(makeScenario(craft, seed), seed, sabotage).go()).counters;

  it('a journal that claims a page before it is written', async () => {
    const entry: Sabotage['entry'] = (e) =>
      e.event === 'begin' && e.stepId.startsWith('write-') ? {...e, event: 'done'} : e;
    expect((await countOf('juniper', 4, {entry})).untrueAccounts).toBeGreaterThan(0);
  });

  it('a journal that names the wrong page', async () => {
    const entry: Sabotage['entry'] = (e) => (e.address === undefined ? e : {...e, address: e.address ^ 0x200});
    expect((await countOf('sorrel', 4, {entry})).untrueAccounts).toBeGreaterThan(0);
  });

  it('a proof of nothing', async () => {
    const entry: Sabotage['entry'] = (e) => (e.proof ? {...e, proof: {...e.proof, count: 0 as never}} : e);
    expect((await countOf('juniper', 4, {entry})).emptyProofs).toBeGreaterThan(0);
  });

  it('a writer that goes on after the order has ended', async () => {
    expect((await countOf('juniper', 4, {orphan: true})).orphanedWriters).toBeGreaterThan(0);
  });

  it('settings of someone that are overwritten without a word', async () => {
    let overwritten = 0;
    // An order that stops before its settings are written is needed: not every seed has one.
    for (let seed = 1; seed <= 12 && !overwritten; seed++)
      overwritten += (
        await countOf('juniper', seed, {careless: true, someone: true, entry: ({snapshot: _, ...rest}) => rest})
      ).overwrittenUnseen;
    expect(overwritten).toBeGreaterThan(0);
  });

  it('a proof that takes whatever is there for what it rests on', async () => {
    let falseProofs = 0;
    for (let seed = 1; seed <= 6 && !falseProofs; seed++)
      falseProofs += (await countOf('juniper', seed, {record: 'forgiving', lives: true})).falseProofs;
    expect(falseProofs).toBeGreaterThan(0);
  });

  it('a measurement that is taken for good whatever it says', async () => {
    let falseProofs = 0;
    // Most measurements are what they say: not every seed has one that is not.
    for (let seed = 1; seed <= 60 && !falseProofs; seed++)
      falseProofs += (await countOf('juniper', seed, {record: 'credulous', lives: true})).falseProofs;
    expect(falseProofs).toBeGreaterThan(0);
  });

  it('a record that forgets what a person wrote', async () => {
    let lost = 0;
    for (let seed = 1; seed <= 4 && !lost; seed++)
      lost += (await countOf('juniper', seed, {record: 'forgetful', lives: true})).lostRecords;
    expect(lost).toBeGreaterThan(0);
  });

  it('a roll-back that leaves something otherwise than it was', async () => {
    let wrong = 0;
    for (let seed = 1; seed <= 24 && !wrong; seed++)
      wrong += (await countOf('juniper', seed, {lazyRollBack: true})).rolledBackWrong;
    expect(wrong).toBeGreaterThan(0);
  });

  it('a motor that turns again after its stop', async () => {
    // An adapter that knows no hold numbers: whatever comes late turns the motors.
    const renew = ({leaseMs}: {leaseMs: number}, now: number) => ({kind: 'taken', until: now + leaseMs});
    const bench: Sabotage['bench'] = (b) =>
      Object.assign(b, {holds: {last: 0, renew, end: () => true, isAlive: () => false, isTooHigh: () => false}});
    let turned = 0;
    for (let seed = 13; seed <= 60 && !turned; seed++)
      turned += (await countOf('juniper', seed, {bench, spins: true})).turnedAfterStop;
    expect(turned).toBeGreaterThan(0);
  });

  it('an order that never ends', async () => {
    // A store that never takes one entry: every attempt stops there.
    const refusal = {code: 'store-failed', place: 'store', meaning: 'It is full.', remedy: 'Free space.'};
    const entry: Sabotage['entry'] = (e) => {
      if (e.stepId === 'prove-settings' && e.event === 'done') throw new ProblemError(refusal);
      return e;
    };
    let unresolved = 0;
    for (let seed = 1; seed <= 12 && !unresolved; seed++) ({unresolved} = await countOf('juniper', seed, {entry}));
    expect(unresolved).toBe(1);
  });

  it('firmware of others that is written over and can be had nowhere', async () => {
    const serial = 'B30-6441';
    const lost = async (keeps: boolean) => {
      const h = new Harness({craft: demoCraft('alder')});
      h.claims.set(serial, {serial, board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, by: 'the bench hand', at: 1});
      const order = await h.order();
      const witness = new Witness(h.bench, h.applications);
      const host = h.host();
      const {journal} = host;
      const append: typeof journal.append = (entry) => {
        witness.hear(order, entry);
        return journal.append(entry);
      };
      const keepApplication = keeps ? host.keepApplication : () => Promise.resolve();
      await h.carryOutWith(order, {...host, keepApplication, journal: {...journal, append}});
      return witness.foreignLost;
    };
    expect([await lost(true), await lost(false)]).toEqual([0, 1]);
  });

  it('a harmed bootloader, a wrong image, lost settings', async () => {
    const h = new Harness();
    const witness = new Witness(h.bench, h.applications);
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

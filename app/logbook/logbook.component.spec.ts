/** The logbook of a craft: orders with their journals, claims, and the way back. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {settle as stored} from '../testing/settle';
import type {Craft} from '@core/craft/craft';
import {snapshotOfFound} from '@core/snapshot/snapshot';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {CraftQuestionStore} from '../state/craft-question.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {WorkStore} from '../state/work.store';
import {browserJournal, database, type KeptClaim, type KeptOrder} from '../store/database';
import {button, buttons, textOf} from '../testing/fakes';
import {LogbookComponent} from './logbook.component';

const harness = new Harness();
const found = await harness.survey();
const order = await harness.order();
let craft: Craft = demoCraft('juniper');
const round = await new Harness({craft: demoCraft('alder')}).order();
const claim: KeptClaim = {
  craftId: 'juniper',
  serial: 'B30-1',
  board: 'Basalt 30',
  chip: 'M32',
  deadTimeNs: 30,
  by: 'the bench hand',
  at: 1,
};

const notes = signal([{at: 5, text: 'Throttle cap of the bench raised to 50 % for one session: a joint under load'}]);

async function logbook(kept: KeptOrder[], claims: KeptClaim[] = []) {
  await database.orders.bulkPut(kept);
  const asked: string[] = [];
  const work = {
    running: signal(false),
    open: signal(undefined),
    prepareRollBack: ({id}: {id: string}) => asked.push(id),
  };
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {provide: CraftQuestionStore, useValue: {judged: signal(undefined)}},
      {provide: WorkStore, useValue: work},
      {
        provide: RecordStore,
        useValue: {craftId: signal('juniper'), claims: signal(claims), found: signal(found), notes},
      },
      {
        provide: FleetStore,
        useValue: {current: signal(craft), edit: (change: (c: Craft) => Craft) => (craft = change(craft))},
      },
    ],
  });
  const fixture = TestBed.createComponent(LogbookComponent);
  const settle = async () => {
    fixture.detectChanges();
    await stored();
    fixture.detectChanges();
  };
  await settle();
  return {host: fixture.nativeElement as HTMLElement, text: () => textOf(fixture.nativeElement), asked, settle};
}
const keep = (id: string, state: KeptOrder['state'], of = order, rollsBack?: string): KeptOrder => ({
  id,
  craftId: 'juniper',
  state,
  order: {...of, id, createdAt: Number(id.slice(1)), ...(rollsBack && {rollsBack})},
});

afterEach(() => Promise.all(database.tables.map((t) => t.clear())));

describe('logbook', () => {
  it('says when nothing happened yet', async () => {
    const {text} = await logbook([]);
    expect(text()).toContain('Nothing was done to this craft yet.');
    expect(text()).toContain('three rising tones say that an ESC has power');
  });

  it('lists orders newest first, with their state in words', async () => {
    const {host} = await logbook([
      keep('o1', 'finished'),
      keep('o2', 'stopped', round),
      keep('o3', 'finished', order, 'o1'),
    ]);
    expect([...host.querySelectorAll('section')].map((s) => textOf(s.querySelector('.head > div')))).toEqual([
      expect.stringMatching(/^Roll-back ?✓ finished/),
      expect.stringMatching(/^Write Meridian 4\.2 ?stopped, can be resumed/),
      expect.stringMatching(/^Write Meridian 4\.2 ?✓ finished/),
    ]);
  });

  it('opens the journal, and rolls a finished order back but no roll-back', async () => {
    await browserJournal.append({orderId: 'o1', at: 1, stepId: 's', event: 'done', text: 'Snapshot of 4 ESCs.'});
    const {host, text, asked, settle} = await logbook([keep('o1', 'finished'), keep('o3', 'finished', order, 'o1')]);
    expect(buttons(host).filter((b) => textOf(b) === 'Roll back to before')).toHaveLength(1);
    button(host, 'Roll back to before').click();
    expect(asked).toEqual(['o1']);
    buttons(host)
      .filter((b) => textOf(b) === 'Journal')[1]!
      .click();
    await settle();
    expect(text()).toMatch(/done ?Snapshot of 4 ESCs\./);
    button(host, 'Hide the journal').click();
    await settle();
    expect(text()).not.toContain('Snapshot of 4 ESCs.');
  });

  it('keeps what was found as a snapshot, compares it, and plans its values again', async () => {
    const {host, text, settle} = await logbook([]);
    expect(text()).toContain('A snapshot is kept before every work order');
    button(host, 'Keep what was found as a snapshot').click();
    await settle();
    expect((await database.snapshots.toArray()).map((s) => [s.craftId, s.name])).toEqual([['juniper', 'as found']]);
    host.querySelector<HTMLButtonElement>('[aria-label="Compare as found"]')!.click();
    await settle();
    expect(text()).toContain('✓ the same Nothing differs.');
    button(host, 'Plan all its values').click();
    expect(craft.plan.parameters['activeBraking']).toEqual({kind: 'per motor', values: [1, 1, 0, 1]});
    expect(craft.plan.parameters['pwm']).toEqual({kind: 'same', value: 24});
    craft = demoCraft('juniper');
  });

  it('shows what differs between two snapshots, motor by motor, and plans one value only', async () => {
    const about = {id: 'b', craft: 'Juniper', name: 'before', at: '2026-11-01T10:00:00Z'};
    const before = snapshotOfFound(found, about);
    const escs = before.escs.map((e) => ({...e, values: {...e.values, timing: 30}}));
    await database.snapshots.bulkPut([
      {...before, craftId: 'juniper'},
      {...before, id: 'c', name: 'hot', at: '2026-11-02T10:00:00Z', escs, craftId: 'juniper'},
    ]);
    const {host, text, settle} = await logbook([]);
    host.querySelector<HTMLButtonElement>('[aria-label="Compare hot"]')!.click();
    await settle();
    expect(text()).toMatch(/Timing advance ?30° → 22\.5° ?30° → 22\.5° ?30° → 15°/);
    host.querySelector<HTMLButtonElement>('[aria-label="Plan Timing advance as it was"]')!.click();
    expect(craft.plan.parameters['timing']).toEqual({kind: 'same', value: 30});
    expect(craft.plan.parameters['pwm']).toEqual({kind: 'same', value: 48});
    craft = demoCraft('juniper');
  });

  it('names who confirmed a board', async () => {
    expect((await logbook([], [claim])).text()).toMatch(/B30-1 ?Basalt 30, 30 ns ?the bench hand/);
  });
});

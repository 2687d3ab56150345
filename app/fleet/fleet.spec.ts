/** The fleet: new craft from presets, copies, the archive. */
import {blankRecord} from '@core/route/craft-record';
import {ChangeDetectionStrategy, Component, signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter, Router} from '@angular/router';
import {demoFleet} from '@demo/craft/fleet';
import {Harness} from '@simulator/testing/bench-harness';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {benchOf} from '../workers/bench-of';
import {FleetStore} from '../state/fleet.store';
import {database} from '../store/database';
import {button, fakeBench, fakeStandIn, textOf} from '../testing/fakes';
import {settle} from '../testing/settle';
import {FleetComponent} from './fleet.component';

/** Where a new craft opens. */
@Component({template: '', changeDetection: ChangeDetectionStrategy.OnPush})
class Opened {}

beforeEach(() => TestBed.configureTestingModule({imports: [FleetComponent]}).compileComponents());
afterEach(async () => {
  await settle();
  await Promise.all(database.tables.map((t) => t.clear()));
});

async function fleet() {
  TestBed.configureTestingModule({
    providers: [
      provideRouter([{path: '**', component: Opened}]),
      {provide: BenchStore, useValue: {...fakeBench(), isConnected: signal(false)}},
      {provide: StandInStore, useValue: fakeStandIn()},
    ],
  });
  const fixture = TestBed.createComponent(FleetComponent);
  const show = async () => {
    fixture.detectChanges();
    await settle();
    fixture.detectChanges();
  };
  // The first reading of the store takes as long as it takes.
  for (let tries = 0; !TestBed.inject(FleetStore).loaded() && tries < 50; tries++) await show();
  await show();
  const host = fixture.nativeElement as HTMLElement;
  const names = () => [...host.querySelectorAll('tbody td:first-child > a')].map(textOf);
  const labelled = (label: string) => host.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`)!;
  return {fixture, host, show, names, labelled, text: () => textOf(host), store: TestBed.inject(FleetStore)};
}

describe('fleet', () => {
  it('lists the craft of the demo with what was found last, the odd one out marked', async () => {
    const found = await new Harness().survey();
    await database.records.put({...blankRecord('juniper'), found});
    const {names, text} = await fleet();
    expect(names()).toEqual(['Juniper', 'Sorrel', 'Alder', 'Bramble']);
    expect(text()).toContain('Meridian 3.7 ×1, odd one out');
    expect(text()).toContain('Meridian 3.9 + reply module 1.1');
  });

  it('copies a craft under the next free name, and keeps it', async () => {
    const {names, labelled, show} = await fleet();
    labelled('Copy Juniper').click();
    await show();
    labelled('Copy Juniper').click();
    await show();
    expect(names()).toEqual(['Juniper', 'Sorrel', 'Alder', 'Bramble', 'Juniper 2', 'Juniper 3']);
    expect(await database.craft.count()).toBe(6);
  });

  it('puts a craft away and takes it back, with everything', async () => {
    const {names, labelled, show, text} = await fleet();
    labelled('Archive Bramble').click();
    await show();
    expect(names()).not.toContain('Bramble');
    expect(text()).toContain('Put away: Bramble, 5-inch quad');
    expect((await database.craft.get('bramble'))!.archived).toBe(true);
    labelled('Take Bramble back').click();
    await show();
    expect(names()).toContain('Bramble');
  });

  it('creates a craft from a preset; a name is taken once', async () => {
    const {host, show, names, store} = await fleet();
    button(host, 'New craft').click();
    await show();
    const dialog = document.querySelector<HTMLElement>('.p-dialog')!;
    const name = dialog.querySelector('input')!;
    const type = async (value: string) => {
      name.value = value;
      name.dispatchEvent(new Event('input'));
      await show();
    };
    await type('Juniper');
    expect(textOf(dialog)).toContain('There is a craft called Juniper already.');
    expect(button(dialog, 'Create Juniper').disabled).toBe(true);
    button(dialog, 'Indoor micro').click();
    await type('Sedge');
    expect(textOf(dialog)).toContain('keeps them from stuttering');
    button(dialog, 'Create Sedge').click();
    await show();
    expect(names()).toContain('Sedge');
    const made = store.crafts().find((c) => c.name === 'Sedge')!;
    // It opens where its motors, battery and boards are asked for.
    expect(TestBed.inject(Router).url).toBe(`/craft/${made.id}/craft`);
    expect([made.escBoard, made.arms.length, made.plan.firmware.family]).toEqual(['Chalk 5', 4, 'Cadence']);
  });
});

describe('the simulated bench of a craft', () => {
  const [juniper, , alder] = demoFleet as [(typeof demoFleet)[0], unknown, (typeof demoFleet)[0]];
  it.each([
    ['its own', juniper, 'juniper'],
    ['a copy has that of its board', {...alder, id: 'x'}, 'alder'],
    ['none for another number of arms', {...juniper, id: 'x', arms: alder.arms}, undefined],
    ['none for an unknown board', {...juniper, id: 'x', escBoard: 'Talc 9'}, undefined],
    ['none for no craft', undefined, undefined],
  ])('%s', (_, craft, bench) => expect(benchOf(craft)).toBe(bench));
});

import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {describe, expect, it} from 'vitest';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {StandInStore} from '../state/stand-in.store';
import {fakeBench} from '../testing/fakes';
import {noMishaps, type BenchMishaps, type BenchState} from '../workers/bench-control';
import {MishapsComponent} from './mishaps.component';

const seen: BenchState = {
  pace: 'ten',
  batteryOn: true,
  outputs: 4,
  road: 'controller',
  hasAdapter: false,
  clippedTo: undefined,
  burnt: [],
  transmitterOn: true,
  switches: {},
};

function render() {
  const bench = fakeBench();
  const standIn = {
    seen: signal<BenchState | undefined>(seen),
    mishaps: signal<BenchMishaps>(noMishaps),
    pace: signal('ten'),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: standIn},
      {provide: FleetStore, useValue: {currentId: signal('juniper')}},
    ],
  });
  const fixture = TestBed.createComponent(MishapsComponent);
  fixture.detectChanges();
  (fixture.nativeElement as HTMLElement).querySelector('button')!.click();
  fixture.detectChanges();
  const entry = (label: string) =>
    [...document.querySelectorAll('[role=menuitem]')].find((e) => e.getAttribute('aria-label') === label);
  return {fixture, bench, standIn, entry};
}

describe('the menu of the simulated bench', () => {
  it('keeps its entries under the mouse while the bench goes on, and shows what has changed', () => {
    const {fixture, bench, standIn, entry} = render();
    const low = entry('Battery nearly empty');
    expect(low).toBeDefined();
    standIn.seen.set({...seen, burnt: [2]});
    bench.isPowered.set(true);
    fixture.detectChanges();
    expect(entry('Battery nearly empty')).toBe(low);
    standIn.mishaps.set({...noMishaps, batteryLow: true});
    fixture.detectChanges();
    expect(entry('Battery nearly empty')).toBeUndefined();
    expect(entry('✓ Battery nearly empty')).toBeDefined();
  });
});

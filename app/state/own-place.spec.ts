/** Facts of facts.md: ESCs with a K8 answer DShot300 at most. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {judgePair} from '@core/controller/signal-pair';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {FleetStore} from './fleet.store';
import {OwnPlace} from './own-place';
import {RecordStore} from './record.store';
import {WorkStore} from './work.store';

const harness = new Harness({craft: demoCraft('sorrel')});
const found = await harness.survey();

function place(record: object | undefined, planned: readonly {hardware?: {chip: string}}[] = []) {
  TestBed.configureTestingModule({
    providers: [
      {provide: FleetStore, useValue: {current: signal(harness.craft)}},
      {provide: RecordStore, useValue: {found: signal(record)}},
      {provide: WorkStore, useValue: {plannedEscs: signal(planned)}},
    ],
  });
  return TestBed.inject(OwnPlace).place();
}

describe('the place that a craft is', () => {
  it('has the slowest chip of what was found and what is planned, and the board of the survey', () => {
    const own = place(found, [{hardware: {chip: 'M32'}}, {}])!;
    const {identity, config} = found.controller!;
    expect(own).toMatchObject({clockMhz: identity.clockMhz, gyroHz: config.gyroHz, outputs: 4, chip: {name: 'K8'}});
    const pair = {protocol: 'dshot600', replies: true, loopHz: 2000} as const;
    expect(judgePair(harness.craft.plan.controller, pair, own).fault).toBe('too fast for the ESC');
  });

  it('is not known before the flight controller was read', () => {
    expect(place(undefined)).toBeUndefined();
    TestBed.resetTestingModule();
    expect(place({...found, controller: undefined})).toBeUndefined();
  });
});

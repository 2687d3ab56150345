/** The guided round: which arm is next, what was read, what stood in the way. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import type {Found} from '@core/bench/found';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {BenchStore} from '../../state/bench.store';
import {StandInStore} from '../../state/stand-in.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {fakeRecord} from '../../testing/fake-record';
import {button, fakeBench, fakeStandIn, textOf} from '../../testing/fakes';
import {ArmRoundComponent} from './arm-round.component';

const alder = demoCraft('alder');
const harness = new Harness({craft: alder});
harness.bench.clippedTo = 0;
const one = await harness.surveyArm(0);
harness.bench.clippedTo = undefined;
const trouble = await harness.surveyArm(1, one);

function round(found: Found | undefined) {
  const bench = {
    ...fakeBench(),
    surveyArm: (o: number) => done.push(`read ${o}`),
    waitingS: signal<number | undefined>(undefined),
    nobodyCame: signal<number | undefined>(undefined),
    stopWaiting: () => done.push('stop waiting'),
  };
  const done: string[] = [];
  const standIn = fakeStandIn(done);
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: standIn},
      {provide: FleetStore, useValue: {current: signal(alder)}},
      {provide: RecordStore, useValue: fakeRecord({craftId: alder.id, found})},
    ],
  });
  const fixture = TestBed.createComponent(ArmRoundComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  return {bench, standIn, done, fixture, host, lines: () => [...host.querySelectorAll(':scope > ol > li')].map(textOf)};
}

describe('the round', () => {
  it('begins with the first arm', () => {
    const {lines, host} = round(undefined);
    expect(lines()).toHaveLength(6);
    expect(lines()[0]).toContain('Clip the simulated adapter to arm 1');
    expect(textOf(host)).toContain('0 of 6 arms read');
  });

  it('knows what was read and which arm is next', () => {
    const {lines} = round(one);
    expect(lines()[0]).toContain('✓ Meridian 3.9, dialect A, B30-6141');
    expect(lines()[1]).toContain('Clip the simulated adapter to arm 2');
  });

  it('tells what stood in the way, and goes on with the next', () => {
    const {lines} = round(trouble);
    expect(lines()[1]).toContain('the adapter is not clipped to an ESC, or that ESC has no power');
    expect(lines()[2]).toContain('Clip the simulated adapter to arm 3');
  });

  it('clips, then reads; an arm the adapter is on can be read again', async () => {
    const {host, done, standIn, fixture} = round(one);
    button(host, 'Clip the simulated adapter to arm 2').click();
    await fixture.whenStable();
    expect(done).toEqual(['clip 1', 'read 1']);
    standIn.clippedTo.set(0);
    fixture.detectChanges();
    button(host, 'Read again').click();
    expect(done.at(-1)).toBe('read 0');
  });

  it('waits for power with the seconds left, and that nobody came is no error', () => {
    const {bench, standIn, host, done, fixture, lines} = round(one);
    standIn.isPresent.set(false);
    fixture.detectChanges();
    button(host, 'Read arm 2').click();
    bench.waitingS.set(41);
    fixture.detectChanges();
    expect(lines()[1]).toContain('connect the battery: 41 s left');
    button(host, 'Stop waiting').click();
    expect(done).toEqual(['read 1', 'stop waiting']);
    bench.waitingS.set(undefined);
    bench.nobodyCame.set(1);
    fixture.detectChanges();
    expect(lines()[1]).toContain('No ESC answered within 60 s');
    expect(host.querySelector('bx-problem')).toBeNull();
  });

  it('on hardware a person clips: every arm has its button to read', () => {
    const {host, done, standIn, fixture} = round(one);
    standIn.isPresent.set(false);
    fixture.detectChanges();
    expect(textOf(host)).not.toContain('simulated');
    button(host, 'Read arm 4').click();
    expect(done).toEqual(['read 3']);
  });
});

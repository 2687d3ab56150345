/** Signal: the budget of found and plan, what is measured while held, and what is told when it cannot be. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {afterEach, describe, expect, it} from 'vitest';
import {ProblemError} from '@core/problem';
import type {ProofRecord} from '@core/proof/proof';
import type {ReplyMeasure} from '@core/proof/replies';
import type {Sighting} from '@core/spin/sighting';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {StandInStore} from '../../state/stand-in.store';
import {WorkStore} from '../../state/work.store';
import {button, fakeBench, fakeStandIn, finger, textOf} from '../../testing/fakes';
import {SignalComponent} from './signal.component';

const asFound = await new Harness().survey();
const updated = new Harness();
await updated.carryOut(await updated.order());
const asPlanned = await updated.survey();
await updated.run(updated.client.hello());
afterEach(() => TestBed.resetTestingModule());

const motor = (lost: number) => ({asked: 9_600, lost, rpm: 12_000, noLoadRpm: 12_650});
const measured = (lost: number): ReplyMeasure[] =>
  [0.04, 0.3, 0.6].map((throttle) => ({
    throttle,
    motors: Array.from({length: 4}, (_, m) => motor(m === 2 ? lost : 0)),
  }));

function station({
  found = asPlanned,
  measure = () => Promise.resolve(measured(0)),
}: {found?: typeof asFound; measure?: () => Promise<ReplyMeasure[]>} = {}) {
  const fake = fakeBench();
  fake.propsOff.set(true);
  const work = {
    holding: signal<number | undefined>(undefined),
    hold: () => fake.calls.push('hold'),
    release: () => fake.calls.push('release'),
    measure,
  };
  const proofs = signal<readonly ProofRecord[]>([]);
  const record = {
    found: signal(found),
    proofs,
    sightings: signal<Sighting[]>([]),
    noise: signal(undefined),
    written: signal({}),
    craftId: signal('juniper'),
    addProofs: (added: readonly ProofRecord[]) => proofs.update((all) => [...all, ...added]),
  };
  const set: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {provide: BenchStore, useValue: {...fake, requireClient: () => updated.client}},
      {provide: StandInStore, useValue: fakeStandIn(fake.calls)},
      {provide: FleetStore, useValue: {current: signal(juniper), setController: (c: unknown) => set.push(c)}},
      {provide: RecordStore, useValue: record},
      {provide: WorkStore, useValue: work},
    ],
  });
  const fixture = TestBed.createComponent(SignalComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const hold = async () => {
    finger(host, 'Hold to measure', 'pointerdown');
    // Who answers is asked of the bench after the measurement.
    for (let i = 0; i < 400 && updated.time.next() !== undefined; i++) {
      await new Promise((resolve) => setImmediate(resolve));
      updated.time.advanceTo(updated.time.next() ?? updated.time.now());
    }
    await fixture.whenStable();
    fixture.detectChanges();
    return textOf(host);
  };
  return {bench: fake, host, fixture, proofs, set, hold, text: () => textOf(host)};
}

describe('signal', () => {
  it('holds the budget of what was found beside the plan', () => {
    const {text} = station({found: asFound});
    expect(text()).toContain('DShot600, replies off');
    expect(text()).toContain('DShot300, replies on, 4 kHz');
    expect(text()).toContain('Replies are off in the flight controller');
  });

  it('counts what was measured into a proof of this craft, with its serials', async () => {
    const {hold, proofs} = station();
    expect(await hold()).toContain('none of 115,200 replies lost');
    expect(proofs()).toHaveLength(1);
    expect(proofs()[0]).toMatchObject({kind: 'replies', holds: true, count: 115_200});
    expect(proofs()[0]!.on.map((o) => o.serial)).toEqual(asPlanned.escs.map((e) => e.boot.serial));
  });

  it('one lost reply is shown as one, and bounds the loss', async () => {
    const {hold, proofs, host} = station({measure: () => Promise.resolve(measured(1))});
    await hold();
    expect(proofs()[0]).toMatchObject({holds: false});
    expect(host.querySelectorAll('td .tag.diff')).toHaveLength(3);
  });

  it('a hold that ended too early is told, and proves nothing', async () => {
    const problem = {code: 'let-go', place: 'hold', meaning: 'Let go too early.', remedy: 'Hold again.'};
    const {hold, proofs} = station({measure: () => Promise.reject(new ProblemError(problem))});
    expect(await hold()).toContain('Let go too early.');
    expect(proofs()).toEqual([]);
  });

  it('replies that nobody asked for prove nothing, and say so', async () => {
    const none = measured(0).map((m) => ({...m, motors: m.motors.map(() => ({asked: 0, lost: 0, rpm: null}))}));
    const {hold, proofs} = station({measure: () => Promise.resolve(none)});
    expect(await hold()).toContain('No replies were asked for');
    expect(proofs()).toEqual([]);
  });

  it('cannot be measured while something else has the wires', () => {
    const {bench, fixture, host} = station();
    bench.occupied.set(true);
    fixture.detectChanges();
    expect(button(host, 'Hold to measure').disabled).toBe(true);
  });

  it('the live table tells speed, throttle and the loss of the last second', () => {
    const {bench, fixture, text} = station();
    bench.motors.set([
      {erpm: 70_000, throttle: 0.3, asked: 100, lost: 1},
      {erpm: null, throttle: 0, asked: 0, lost: 0},
    ]);
    bench.recentLoss.set([0.01, undefined]);
    fixture.detectChanges();
    expect(text()).toContain('motor 130 %10000 rpm1.0 %');
    expect(text()).toContain('motor 20 %no replynone asked');
  });
});

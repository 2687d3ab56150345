/** Signal: the budget of found and plan, what is measured while held, and what is told when it cannot be. */
import {signal, type Type} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {afterEach, describe, expect, it, vi} from 'vitest';
import {ProblemError} from '@core/problem';
import type {Craft} from '@core/craft/craft';
import type {KeptStress} from '@core/replies/kept-stress';
import type {ReplyMeasure} from '@core/replies/replies';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {StandInStore} from '../../state/stand-in.store';
import {StressStore} from '../../state/spin/stress.store';
import {WorkStore} from '../../state/work.store';
import {fakeRecord} from '../../testing/fake-record';
import {button, fakeBench, fakeStandIn, finger, textOf} from '../../testing/fakes';
import {BudgetViewComponent} from './budget-view.component';
import {RepliesViewComponent} from './replies-view.component';

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
    ...(throttle === 0.04 && {alone: [0, 1, 2, 3].map(() => ({turned: true, others: []}))}),
    motors: Array.from({length: 4}, (_, m) => motor(m === 2 ? lost : 0)),
  }));

interface Setting {
  found?: typeof asFound;
  measure?: () => Promise<ReplyMeasure[]>;
  craft?: Craft;
  stress?: object;
}

function prepare({
  found = asPlanned,
  measure = () => Promise.resolve(measured(0)),
  craft = juniper,
  stress = {},
}: Setting) {
  const fake = fakeBench();
  fake.propsOff.set(true);
  const work = {
    holding: signal<number | undefined>(undefined),
    hold: () => fake.calls.push('hold'),
    release: () => fake.calls.push('release'),
    measure,
    plannedEscs: signal([]),
  };
  const record = fakeRecord({found});
  const {proofs} = record;
  const set: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {provide: BenchStore, useValue: {...fake, requireClient: () => updated.client}},
      {provide: StandInStore, useValue: fakeStandIn(fake.calls)},
      {provide: FleetStore, useValue: {current: signal(craft), setController: (c: unknown) => set.push(c)}},
      {provide: RecordStore, useValue: record},
      {provide: WorkStore, useValue: work},
      {provide: StressStore, useValue: {...fakeStress(), ...stress}},
    ],
  });
  return {fake, proofs, set};
}

/** Its table comes when the rest stands: a part of its own, compiled beforehand. */
async function budget(setting: Setting = {}) {
  const prepared = prepare(setting);
  await TestBed.configureTestingModule({imports: [BudgetViewComponent]}).compileComponents();
  return shown(prepared, BudgetViewComponent);
}

const station = (setting: Setting = {}) => shown(prepare(setting), RepliesViewComponent);

function shown({fake, proofs, set}: ReturnType<typeof prepare>, view: Type<unknown>) {
  const fixture = TestBed.createComponent(view);
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

const fakeStress = () => ({
  ...{
    share: signal(undefined),
    throttle: signal(0),
    counting: signal(undefined),
    own: signal([]),
    isHeld: signal(false),
  },
  ...{shown: signal(undefined), problem: signal(undefined), storeFault: signal(undefined)},
  open: () => Promise.resolve(),
});

/** A run of ten seconds in which one motor lost some. */
const run = (lost: number): KeptStress => ({
  ...{id: 'r', craftId: 'juniper', at: asPlanned.at + 1, plannedS: 60, top: 0.3, endedBy: 'The button was let go.'},
  ...{protocol: 'dshot300', replies: true, loopHz: 4000},
  quality: {
    ...{seconds: 10, load: 0.16, mostRpm: 60_000, timeS: 0.25, overTime: []},
    motors: [0, 1, 2, 3].map((m) => ({
      ...{asked: 40_000, lost: m === 1 ? lost : 0, implausible: 0, longestRun: lost ? 2 : 0, oldestMs: 0.4},
      lostAs: {missing: 0, code: m === 1 ? lost : 0, checksum: 0},
      ...{overThrottle: [{asked: 40_000, lost: m === 1 ? lost : 0}], overSpeed: []},
    })),
  },
});

describe('budget', () => {
  const table = (host: HTMLElement) => host.querySelector('bx-pair-table')!;

  it('an impossible plan leads to a pair that works, written for both sides at once', async () => {
    const craft = {...juniper, plan: {...juniper.plan, controller: {...juniper.plan.controller, loopHz: 8000}}};
    const {text, set, host} = await budget({craft});
    expect(text()).toContain('wire too slow');
    expect(text()).toContain('command 53.3 + pause 30 + reply 56.0 takes 139 µs, 14 more');
    button(host, 'Plan DShot').click();
    expect(set).toEqual([
      {protocol: expect.stringMatching(/^dshot/), replies: true, loopHz: expect.any(Number), poles: 14},
    ]);
  });

  it('every pair is a button that says its verdict; choosing one plans it', async () => {
    const {host, set, fixture} = await budget();
    // It is drawn when the rest stands.
    await vi.waitFor(() => {
      fixture.detectChanges();
      expect(table(host)).toBeTruthy();
    });
    const cells = [...table(host).querySelectorAll<HTMLButtonElement>('button')];
    expect(cells).toHaveLength(60);
    expect(cells.filter((c) => c.getAttribute('aria-pressed') === 'true')).toHaveLength(1);
    expect(cells.filter((c) => c.tabIndex === 0)).toHaveLength(1);
    cells.find((c) => c.getAttribute('aria-label')!.startsWith('DShot600 with replies at 8 kHz'))!.click();
    expect(set).toEqual([{protocol: 'dshot600', replies: true, loopHz: 8000, poles: 14}]);
  });
});

describe('replies under load', () => {
  const stress = (lost: number) => ({shown: signal(run(lost)), own: signal([run(lost)])});

  it('a run that was let go says how far it came, and passes nothing; what was counted stands with its bound', () => {
    const {text} = station({stress: stress(0)});
    expect(text()).toContain('Ended after 10.0 of 60 s: The button was let go.');
    expect(text()).toContain('None of 160,000 replies lost');
    expect(text()).toContain('ended too early');
  });

  it('losses of one motor are told by kind, with why and what to do', () => {
    const {text, host} = station({stress: stress(400)});
    expect(text()).toContain('does not pass');
    expect(text()).toContain('Motor 2 lost 400 of 40,000 replies, 1 %; with 95 % certainty at most 1.1 %');
    expect(host.querySelector('[aria-label="Why replies are lost"]')!.textContent).toContain(
      'Look at the signal wire of motor 2',
    );
  });

  it('replies that are off are told before anything turns, and nothing is held', () => {
    const {text, host} = station({found: asFound});
    expect(text()).toContain('they are off in it');
    expect(button(host, 'Hold to load the replies').disabled).toBe(true);
  });
});

describe('signal', () => {
  it('holds the budget of what was found beside the plan', async () => {
    const {text} = await budget({found: asFound});
    expect(text()).toContain('DShot600, replies off');
    expect(text()).toContain('DShot300, replies on, 4 kHz');
    expect(text()).toContain('fits');
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
    expect(await hold()).toContain('No replies were requested');
    expect(proofs()).toEqual([]);
  });

  it('cannot be measured while something else has the wires', () => {
    const {bench, fixture, host} = station();
    bench.occupied.set(true);
    fixture.detectChanges();
    expect(button(host, 'Hold to measure').disabled).toBe(true);
  });

  it('what an ESC tells beside its speed stands in words with units, apart from the speed', () => {
    const {bench, fixture, text} = station();
    const lostAs = {missing: 1, code: 0, checksum: 0, run: 1, ageMs: 0.26};
    const told = {temperature: 60, voltage: 23.75, current: 12, state: 0};
    bench.motors.set([{erpm: 70_000, throttle: 0.3, asked: 100, lost: 1, lostAs, told}]);
    fixture.detectChanges();
    // Nothing was asked for lately: how old the newest reply is says nothing.
    expect(text()).not.toContain('0.3 ms');
    bench.recentLoss.set([0.01]);
    fixture.detectChanges();
    expect(text()).toContain('10000 rpm');
    expect(text()).toContain('0.3 ms');
    expect(text()).toContain('60 °C, 23.75 V, 12 A');
  });

  it('the live table tells speed, throttle and the loss of the last second', () => {
    const {bench, fixture, text} = station();
    bench.motors.set([
      {erpm: 70_000, throttle: 0.3, asked: 100, lost: 1},
      {erpm: null, throttle: 0, asked: 0, lost: 0},
    ]);
    bench.recentLoss.set([0.01, undefined]);
    fixture.detectChanges();
    expect(text()).toContain('motor 1 front right30 %10000 rpm1.0 %');
    expect(text()).toContain('motor 2 rear right0 %no replynone requested');
  });
});

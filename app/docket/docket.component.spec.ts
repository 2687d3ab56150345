import {computed, signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {juniper} from '@demo/craft/juniper';
import type {Found} from '@core/bench/found';
import type {Problem} from '@core/problem';
import type {JournalEntry, StepState} from '@core/run/journal';
import type {Progress} from '@core/run/runner';
import {blankRecord} from '@core/route/craft-record';
import {routeStates} from '@core/route/stations';
import {makeWorkOrder} from '@core/run/order/make-order';
import type {WorkOrder} from '@core/order/work-order';
import type {WorkNow} from '@core/sheets/order/work-now';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {CraftQuestionStore} from '../state/craft-question.store';
import {WorkStore} from '../state/work.store';
import {button, buttons, fakeBench, fakeStandIn, textOf} from '../testing/fakes';
import {DocketComponent} from './docket.component';

const found = await new Harness().survey();
const built = makeWorkOrder({id: 'o', at: 1, craft: juniper, found, imageFor: shelf.imageFor(juniper)});
const states = (read: Found | undefined) =>
  routeStates({craft: juniper, record: {...blankRecord('juniper'), found: read}, now: undefined});
const order: WorkOrder = built.ok ? built.value : (undefined as never);
const problem: Problem = {code: 'x', place: 'motor 2', meaning: 'It fell silent.', remedy: 'Connect the battery.'};

function docket(
  change: (parts: {bench: ReturnType<typeof fakeBench>; work: ReturnType<typeof fakeWork>}) => void = () => undefined,
  record: {found: Found | undefined; states: ReturnType<typeof routeStates>} = {found, states: states(found)},
) {
  const bench = fakeBench();
  const work = fakeWork();
  const fleet = {current: signal(juniper), currentId: signal('juniper')};
  change({bench, work});
  const question = () => ({
    ...{craft: juniper, states: record.states, record: {found: record.found}},
    bench: {
      ...{isConnected: bench.isConnected(), isPowered: bench.isPowered()},
      ...{isOccupied: bench.occupied(), isOnAdapter: bench.onAdapter(), isPropsOff: bench.propsOff()},
    },
  });
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: fakeStandIn(bench.calls)},
      {provide: WorkStore, useValue: work},
      {provide: RecordStore, useValue: {found: signal(record.found)}},
      {provide: CraftQuestionStore, useValue: {question: computed(question), judged: signal(undefined)}},
      {provide: FleetStore, useValue: fleet},
      provideRouter([]),
    ],
  });
  Element.prototype.scrollIntoView = () => undefined;
  const fixture = TestBed.createComponent(DocketComponent);
  fixture.detectChanges();
  return {
    bench,
    work,
    fleet,
    fixture,
    host: fixture.nativeElement as HTMLElement,
    text: () => textOf(fixture.nativeElement),
  };
}

function fakeWork() {
  const calls: string[] = [];
  const work = {
    calls,
    draft: signal<typeof built | undefined>(built),
    open: signal<{order: WorkOrder} | undefined>(undefined),
    journal: signal<JournalEntry[]>([]),
    stepStates: signal<Record<string, StepState>>({}),
    running: signal(false),
    progress: signal<Progress | undefined>(undefined),
    working: signal<Record<string, Progress>>({}),
    paused: signal(false),
    rewrite: signal<number[]>([]),
    problem: signal<Problem | undefined>(undefined),
    changes: signal<{key: string; place: string; what: string}[]>([]),
    holding: signal<number | undefined>(undefined),
    finished: signal<WorkOrder | undefined>(undefined),
    keepsPlan: signal(false),
    keepPlan: () => calls.push('keep plan'),
    planAsFound: () => calls.push('plan as found'),
    start: () => calls.push('start'),
    resume: () => calls.push('resume'),
    stop: () => calls.push('stop'),
    togglePause: () => calls.push('pause'),
    dropRollBack: () => calls.push('drop'),
    toggleLeaveStep: (kind: string) => calls.push(`leave ${kind}`),
    giveUp: () => calls.push('give up'),
    dismissProblem: () => calls.push('dismiss'),
    hold: () => calls.push('hold'),
    release: () => calls.push('release'),
  };
  const now = computed((): WorkNow => ({
    ...{last: work.finished(), open: work.open(), isRunning: work.running(), draft: work.draft()},
    ...{keepsPlan: work.keepsPlan(), journal: work.journal(), stepStates: work.stepStates()},
    ...{progress: work.progress(), working: work.working(), problem: work.problem()},
  }));
  return {...work, now};
}

describe('docket', () => {
  it('lists every step in order, with what changes, and the time', () => {
    const {host, text} = docket();
    expect(host.querySelectorAll('ol > li')).toHaveLength(order.steps.length);
    expect(text()).toMatch(/11 steps, about \d+ s, nothing written yet/);
    expect(text()).toContain('motor 3: 33 of 41 pages differ');
    expect(text()).toContain('Timing advance 15° → 22.5° motor 3');
    expect([...host.querySelectorAll('li.you')].map((li) => textOf(li.firstElementChild))).toEqual(['6', '11']);
  });

  it('carries nothing out before the propellers are confirmed off', () => {
    const {host, bench, work, fixture} = docket();
    const carryOut = button(host, 'Carry out work order');
    expect(carryOut.disabled).toBe(true);
    bench.propsOff.set(true);
    fixture.detectChanges();
    expect(carryOut.disabled).toBe(false);
    carryOut.click();
    expect(work.calls).toEqual(['start']);
  });

  it.each([
    ['without the bench', (b: ReturnType<typeof fakeBench>) => b.isConnected.set(false)],
    ['without the battery', (b: ReturnType<typeof fakeBench>) => b.isPowered.set(false)],
  ])('nor %s', (_, take) => {
    const {host} = docket(({bench}) => {
      bench.propsOff.set(true);
      take(bench);
    });
    expect(button(host, 'Carry out work order').disabled).toBe(true);
  });

  it('does not start on a battery that cannot finish, and says so', () => {
    const {host, text} = docket(({bench}) => {
      bench.propsOff.set(true);
      bench.power.set({volts: 19.2, amps: 0.3, cycles: 1});
    });
    expect(text()).toContain('It has 19.2 V, 3.20 V per cell');
    expect(button(host, 'Carry out work order').disabled).toBe(true);
  });

  it('lists what it leaves open, with the reason', () => {
    const {text} = docket(({work}) =>
      work.draft.set(built.ok ? {ok: true, value: {...order, leftOut: [{output: 3, problem}]}} : built),
    );
    expect(text()).toContain('Motor 4 stays open. It fell silent. Connect the battery.');
  });

  it('never calls a bench as planned while something was left out', () => {
    const left = {...order, steps: [], leftOut: [{output: 3, problem}]};
    const {text, work, fixture} = docket(({work}) => {
      work.draft.set(built.ok ? {ok: true, value: left} : built);
      work.finished.set(left);
    });
    expect(text()).toContain('✓ carried out Every step was done and proven. What was skipped stays open.');
    work.finished.set(undefined);
    fixture.detectChanges();
    expect(text()).toMatch(/Nothing to do on the other motors\. ?Motor 4 stays open\./);
  });

  it('offers to leave a kind of step out once, and lists it as open with the way back', () => {
    const {host, work, fixture, text} = docket();
    button(host, 'skip').click();
    expect(buttons(host).filter((b) => textOf(b) === 'skip')).toHaveLength(4);
    expect(work.calls).toEqual(['leave write-firmware']);
    work.draft.set(built.ok ? {ok: true, value: {...order, leftSteps: ['prove-replies'], steps: []}} : built);
    fixture.detectChanges();
    expect(text()).toContain(
      'Nothing is left to do but what you skipped.Proving the replies stays open. You skipped it.',
    );
    button(host, 'include again').click();
    expect(work.calls).toEqual(['leave write-firmware', 'leave prove-replies']);
  });

  it('tells what the plan would do wrong before it is carried out', () => {
    const warning = {
      id: 'x',
      severity: 'warn' as const,
      keys: [],
      place: 'motor 2',
      meaning: 'It beats.',
      remedy: 'Go higher.',
    };
    const {text} = docket(({work}) =>
      work.draft.set(built.ok ? {ok: true, value: {...order, warnings: [warning]}} : built),
    );
    expect(text()).toContain('motor 2. It beats. Go higher.');
  });

  it('asks to look at the new order when someone changed the bench meanwhile', () => {
    const {host, work, text} = docket(({work}) => {
      work.open.set({order});
      work.problem.set({...problem, code: 'found-changed', meaning: 'Someone changed the bench.'});
    });
    expect(text()).toContain('Someone changed the bench.');
    expect(buttons(host).map(textOf)).not.toContain('Resume work order');
    button(host, 'Look at the new order').click();
    expect(work.calls).toEqual(['give up']);
  });

  it('asks for the arm on a single-wire adapter', () => {
    const {text, host} = docket(({work}) => {
      work.open.set({order});
      work.running.set(true);
      work.progress.set({stepId: 'x', share: 0, text: 'Clip the adapter to arm 3.', waitsFor: 'clip', output: 2});
    });
    expect(text()).toContain('Clip the adapter to arm 3.');
    expect(button(host, 'Clip the simulated adapter to arm 3')).toBeDefined();
  });

  it('says why there is no order', () => {
    const {text} = docket(({work}) => work.draft.set({ok: false, problem}));
    expect(text()).toContain('motor 2 It fell silent.');
  });

  it('without an image offers to go on without writing firmware', () => {
    const {host, work} = docket(({work}) => work.draft.set({ok: false, problem: {...problem, code: 'no-image'}}));
    button(host, 'Go on without writing firmware').click();
    expect(work.calls).toEqual(['leave write-firmware']);
  });

  it('says when there is nothing to do', () => {
    const {text, host} = docket(({work}) =>
      work.draft.set(built.ok ? {ok: true, value: {...order, steps: []}} : built),
    );
    expect(text()).toContain('Nothing to write: the craft matches the plan.');
    expect(buttons(host)).toEqual([]);
  });

  it('with nothing to write lists what is still to prove, in the order of the route, the first as next', () => {
    const {host} = docket(({work}) => work.draft.set(built.ok ? {ok: true, value: {...order, steps: []}} : built));
    const items = [...host.querySelectorAll('ol.still > li')].map(textOf);
    expect(items).toHaveLength(5);
    expect(items[0]).toBe('FirmwarenextProve the firmware, page by page: 4 behind');
    expect([...host.querySelectorAll('ol.still a')].map((a) => a.getAttribute('href'))).toEqual(
      ['firmware', 'parameters', 'spin', 'signal', 'arming'].map((name) => `/craft/juniper/${name}`),
    );
  });

  it('without a survey connects and surveys in one go, and says that this is next', () => {
    const {host, bench} = docket(
      ({work, bench}) => {
        work.draft.set(undefined);
        bench.isConnected.set(false);
      },
      {found: undefined, states: states(undefined)},
    );
    expect(textOf(host.querySelector('ol.still > li.first'))).toMatch(/^Surveynext/);
    button(host, 'Connect and survey').click();
    expect(bench.calls).toEqual(['connect and survey']);
  });

  it('with everything proven leaves its room to the station, and says so where it is opened', () => {
    const done = {...states(found)};
    for (const name of Object.keys(done) as (keyof typeof done)[]) done[name] = {state: 'done', note: ''};
    const {text, host, fixture} = docket(
      ({work}) => work.draft.set(built.ok ? {ok: true, value: {...order, steps: []}} : built),
      {found, states: done},
    );
    expect(textOf(host.querySelector('.folded.strip'))).toContain('nothing open');
    expect(host.querySelector('aside')).toBeNull();
    button(host, 'Open work order').click();
    fixture.detectChanges();
    expect(text()).toContain('Everything is proven. Sign-off lists on what and when.');
  });

  it('shows the step at work with its progress, ticks the done ones, and can be stopped', () => {
    const {host, work, text} = docket(({work}) => {
      work.open.set({order});
      work.running.set(true);
      work.stepStates.set({snapshot: 'done', 'write-0': 'begun'});
      const first = {stepId: 'write-0', share: 0.25, text: 'Motor 1: page 5 of 17'};
      const second = {stepId: 'write-1', share: 0.3, text: 'Motor 2: page 6 of 17'};
      work.working.set({'write-0': first, 'write-1': second});
      work.progress.set(second);
    });
    expect(text()).toContain('1 of 11 steps done');
    expect([...host.querySelectorAll('li.now')].map((li) => textOf(li.querySelector('.live')))).toEqual([
      'Motor 1: page 5 of 17',
      'Motor 2: page 6 of 17',
    ]);
    expect(host.querySelector('li.now [role=progressbar]')!.getAttribute('aria-valuenow')).toBe('25');
    expect(textOf(host.querySelector('li.done em'))).toBe('✓');
    expect(text()).toContain('Leave battery and cable alone.');
    button(host, 'Pause after page').click();
    button(host, 'Stop after page').click();
    expect(work.calls).toEqual(['pause', 'stop']);
  });

  it('asks for the battery, off and then on', () => {
    const {host, bench, fixture} = docket(({work}) => {
      work.open.set({order});
      work.running.set(true);
      work.progress.set({stepId: 'cycle', share: 0, text: 'Take the battery off.', waitsFor: 'battery'});
    });
    button(host, 'Take the simulated battery off').click();
    bench.isPowered.set(false);
    fixture.detectChanges();
    button(host, 'Connect the simulated battery').click();
    expect(bench.calls).toEqual(['battery off', 'battery on']);
  });

  it('the reply proof wants a held button and propellers off', () => {
    const {host, work, bench, fixture} = docket(({work}) => {
      work.open.set({order});
      work.running.set(true);
      work.progress.set({stepId: 'prove-replies', share: 0, text: 'Hold', waitsFor: 'hold'});
    });
    const hold = button(host, 'Hold to prove the replies');
    expect(hold.disabled).toBe(true);
    bench.propsOff.set(true);
    fixture.detectChanges();
    hold.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter'}));
    hold.dispatchEvent(new KeyboardEvent('keyup', {key: 'Enter'}));
    expect(work.calls).toEqual(['hold', 'release']);
  });

  it('a stopped order tells its last account and resumes', () => {
    const stopped: JournalEntry = {
      orderId: 'o',
      at: 1,
      stepId: 'write-1',
      event: 'stopped',
      text: 'Motor 2 fell silent.',
    };
    const {host, work, text} = docket(({work}) => {
      work.open.set({order});
      work.journal.set([stopped]);
      work.problem.set(problem);
    });
    expect(text()).toContain('Stopped, not lost Motor 2 fell silent.');
    button(host, 'Resume work order').click();
    button(host, 'Put this order away').click();
    button(host, 'Close').click();
    expect(work.calls).toEqual(['resume', 'give up', 'dismiss']);
  });

  it('without an account it was the page that went away', () => {
    expect(docket(({work}) => work.open.set({order})).text()).toContain(
      'The page was closed in the middle of this order.',
    );
  });

  it('a stopped order wants the bench, then the battery, before it resumes', () => {
    const {host, bench, fixture} = docket(({bench, work}) => {
      work.open.set({order});
      bench.isConnected.set(false);
    });
    button(host, 'Connect the simulated bench').click();
    expect(bench.calls).toEqual(['connect']);
    bench.isConnected.set(true);
    bench.isPowered.set(false);
    fixture.detectChanges();
    expect(button(host, 'Resume work order').disabled).toBe(true);
  });

  it('after a roll-back asks whether plan or craft is wanted, and either answer is one press', () => {
    const {host, work, text} = docket(({work}) => work.finished.set({...order, rollsBack: 'first'}));
    expect(text()).toContain('↩ rolled back The craft holds what it held before that order.');
    expect(buttons(host).map((b) => textOf(b))).not.toContain('Carry out work order');
    button(host, 'Keep the plan and show its steps').click();
    expect(work.calls).toEqual(['keep plan']);
    button(host, 'Copy what the craft holds into the plan').click();
    expect(work.calls).toEqual(['keep plan', 'plan as found']);
  });

  it('says that all was carried out', () => {
    const {text} = docket(({work}) => {
      work.draft.set(built.ok ? {ok: true, value: {...order, steps: []}} : built);
      work.finished.set(order);
    });
    expect(text()).toContain('✓ carried out Every step was done and proven.');
  });
});

describe('a docket on a narrow screen', () => {
  beforeEach(() => {
    const query = {matches: true, addEventListener: () => undefined, removeEventListener: () => undefined};
    vi.stubGlobal('matchMedia', () => query);
  });
  afterEach(() => vi.unstubAllGlobals());

  it('is a bar with what there is to do, and opens and folds', () => {
    const {host, fixture} = docket();
    expect(textOf(host.querySelector('.folded'))).toMatch(/^Work order11 steps, about \d+ s, nothing written yet/);
    expect(host.querySelector('aside')).toBeNull();
    button(host, 'Open work order').click();
    fixture.detectChanges();
    expect(host.querySelectorAll('aside ol > li').length).toBe(order.steps.length);
    button(host, 'fold').click();
    fixture.detectChanges();
    expect(host.querySelector('aside')).toBeNull();
  });

  it('says the step at work, and opens by itself when a person is waited for', () => {
    const {host, work, fixture} = docket(({work}) => {
      work.open.set({order});
      work.running.set(true);
      work.progress.set({stepId: 'write-0', share: 0.2, text: 'Motor 1: page 5 of 17'});
    });
    expect(textOf(host.querySelector('.folded'))).toContain('Motor 1: page 5 of 17');
    work.progress.set({stepId: 'cycle', share: 0, text: 'Take the battery off.', waitsFor: 'battery'});
    TestBed.tick();
    fixture.detectChanges();
    expect(button(host, 'Take the simulated battery off')).toBeDefined();
  });
});

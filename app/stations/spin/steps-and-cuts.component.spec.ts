/** Steps and cuts on the simulated bench in virtual time: what is shown of a run, what a cure plans, what forbids to hold. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {afterEach, describe, expect, it} from 'vitest';
import type {Craft, PlannedValue} from '@core/craft/craft';
import type {Problem} from '@core/problem';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {MotionStore} from '../../state/spin/motion.store';
import {RecordStore} from '../../state/record.store';
import {fakeRecord} from '../../testing/fake-record';
import {button, fakeBench, textOf} from '../../testing/fakes';
import {withoutCharts} from '../../testing/chart-stub.component';
import {StepsAndCutsComponent} from './steps-and-cuts.component';

afterEach(() => TestBed.resetTestingModule());

/** Juniper as planned, but for the active braking of motor 3. */
async function view({replies = true, coasts = true} = {}) {
  const plan = juniper.plan.parameters;
  const braking: PlannedValue = {kind: 'per motor', values: [1, 1, coasts ? 0 : 1, 1]};
  const own: Craft = {...juniper, plan: {...juniper.plan, parameters: {...plan, activeBraking: braking}}};
  const h = new Harness({craft: own});
  await h.carryOut(await h.order());
  const found = await h.survey();
  const controller = found.controller!;
  await h.run(h.client.request('reports', {on: true}));
  // The reply proof has turned the motors; one that coasts takes seconds to stand.
  await h.run(new Promise<void>((resolve) => h.time.after(9_000, resolve)));
  const held: {end?: (why?: Problem) => void} = {};
  const fake = fakeBench();
  fake.propsOff.set(true);
  const craft = signal<Craft>(own);
  const record = fakeRecord({found: {...found, controller: {...controller, config: {...controller.config, replies}}}});
  const planned: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      {provide: CLOCK, useValue: h.time},
      {
        provide: BenchStore,
        useValue: {
          ...fake,
          requireClient: () => h.client,
          beginHold: (end: (why?: Problem) => void) => {
            held.end = end;
            return () => delete held.end;
          },
        },
      },
      {
        provide: FleetStore,
        useValue: {
          current: craft,
          setParameter: (key: string, value: PlannedValue) => {
            planned.push([key, value]);
            craft.update((c) => ({...c, plan: {...c.plan, parameters: {...c.plan.parameters, [key]: value}}}));
          },
        },
      },
      {
        provide: RecordStore,
        useValue: record,
      },
    ],
  });
  withoutCharts(StepsAndCutsComponent);
  const fixture = TestBed.createComponent(StepsAndCutsComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const motion = TestBed.inject(MotionStore);
  return {
    h,
    fake,
    held,
    host,
    planned,
    proofs: record.proofs,
    script: record.script,
    motion,
    show: () => fixture.detectChanges(),
    async measure() {
      await h.run(motion.hold([0, 1, 2, 3]));
      fixture.detectChanges();
    },
    row: (name: string) =>
      [...host.querySelectorAll('tbody tr')].find((r) => textOf(r).startsWith(name))!.querySelectorAll('td.n'),
  };
}

/** Does so long after the script began, ms: each motor was turned alone before. */
function whenRunning({h, motion}: Awaited<ReturnType<typeof view>>, ms: number, act: () => void): void {
  const look = (): void => {
    const isRunning = motion.throttle() > 0 && motion.alone() === undefined;
    h.time.after(isRunning ? ms : 20, isRunning ? act : look);
  };
  look();
}

describe('a run', () => {
  it('shows every motor with its bounds, the KV as the motors are made, and marks the odd one', async () => {
    const v = await view();
    expect(textOf(v.host)).toContain('Nothing was measured on this craft yet.');
    await v.measure();
    const kv = [...v.row('KV')].map((c) => parseFloat(textOf(c)));
    [1752, 1746, 1757, 1749].forEach((made, m) => expect(Math.abs(kv[m]! / made - 1)).toBeLessThan(0.01));
    expect(textOf(v.row('KV')[0]!)).toMatch(/^\d{4} ?± \d+$/);
    const down = [...v.row('Down to 37 %')];
    expect(down.map((c) => c.querySelector('.tag.diff') !== null)).toEqual([false, false, true, false]);
    expect(textOf(v.host)).toContain('Kept by the flight controller');
    expect(textOf(v.host)).toMatch(
      /Motor 3, rear left, starts last: 10\d\d µs at most ?19 of 20 .* by the motor card, .* With 15 µs of margin the idle is \d\.\d %/,
    );
  });

  it('names the cause with both readings, and plans the value of the others on that motor alone', async () => {
    const v = await view();
    await v.measure();
    expect(textOf(v.host)).toContain('It reads off; the others read on.');
    button(v.host, 'Plan it as on the others').click();
    v.show();
    expect(v.planned).toEqual([['activeBraking', {kind: 'same', value: 1}]]);
    expect(textOf(v.host)).toContain('carry out the work order, then measure again');
    expect(v.proofs()).toMatchObject([{kind: 'motion', holds: false}]);
  });

  it('of motors that are alike says so, and proves it of this craft, each line with its number', async () => {
    const v = await view({coasts: false});
    await v.measure();
    expect(textOf(v.host)).toContain('✓ alike');
    expect(v.proofs()).toMatchObject([{kind: 'motion', holds: true, on: {length: 4}}]);
    expect(v.proofs()[0]!.text).toMatch(
      /starts at .* idle 4 %; rises in [\d.]+ ms ± \d+ %, .*; KV 17\d\d to 17\d\d rpm\/V beside 1750/,
    );
  });

  it('that was let go at once calls no motor alike', async () => {
    const v = await view({coasts: false});
    whenRunning(v, 100, () => v.motion.letGo());
    await v.measure();
    expect(textOf(v.host)).not.toContain('✓ alike');
    expect(v.proofs()).toEqual([]);
    expect(textOf(v.host)).toContain('too few measurements to compare the motors');
  });

  it('let go while each motor is turned alone records nothing and says so', async () => {
    const v = await view({coasts: false});
    const began = Date.now();
    v.h.time.after(600, () => v.motion.letGo());
    await v.measure();
    expect(textOf(v.host)).toContain('The button was let go before the script had ended.');
    const recorded = v.motion.listed().filter(({at}) => at >= began);
    expect([recorded, v.proofs(), v.motion.alone()]).toEqual([[], [], undefined]);
  });

  it('that something else ended tells why, and shows what was recorded', async () => {
    const v = await view();
    const problem = {code: 'page-hidden', place: 'hold', meaning: 'The page was hidden.', remedy: 'Hold again.'};
    whenRunning(v, 1_400, () => v.held.end?.(problem));
    await v.measure();
    expect(textOf(v.host)).toContain('The page was hidden.');
    expect(v.row('Starts at')).toHaveLength(4);
    // It ended before the cuts: of what was not told nothing is called alike.
    expect(textOf(v.host)).not.toMatch(/siblings in .*coast-down/);
    expect(v.h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });
});

describe('a script', () => {
  it('is chosen with its height and length, and kept with the craft', async () => {
    const v = await view();
    v.motion.choose({name: 'ramp', top: 0.2, seconds: 2});
    v.show();
    expect(v.script()).toEqual({name: 'ramp', top: 0.2, seconds: 2});
    expect(v.motion.seconds()).toBe(2);
    await v.measure();
    const throttles = v.motion.own()!.trace.motors[0]!.throttle;
    expect(Math.max(...throttles)).toBeGreaterThan(0.19);
    expect(Math.max(...throttles)).toBeLessThanOrEqual(0.2005);
    // A ramp is no card: it proves nothing of the motors.
    expect(v.proofs()).toEqual([]);
  });

  it('goes above the cap only when that was raised with a reason', async () => {
    const v = await view();
    v.motion.choose({name: 'steady', top: 0.6, seconds: 1});
    expect(Math.max(...v.motion.script().segments.map((s) => s.to))).toBe(0.3);
    button(v.host, 'Raise the cap for this session').click();
    v.show();
    const raise = button(v.host, 'Raise');
    expect(raise.disabled).toBe(true);
    const reason = v.host.querySelector<HTMLInputElement>('input[aria-label=Reason]')!;
    reason.value = 'a joint that fails under load';
    reason.dispatchEvent(new Event('input'));
    v.show();
    button(v.host, 'Raise').click();
    expect(v.fake.calls).toEqual(['cap 0.5 a joint that fails under load']);
  });
});

describe('the hold', () => {
  const holdButton = (host: HTMLElement) => host.querySelector<HTMLButtonElement>('.hold')!;
  it('waits for replies, with the way to get them', async () => {
    const v = await view({replies: false});
    expect(holdButton(v.host).disabled).toBe(true);
    expect(textOf(v.host)).toContain('Plan them on the Signal station');
  });
  it('waits for the propellers and for motors that still turn', async () => {
    const v = await view();
    expect(holdButton(v.host).disabled).toBe(false);
    v.fake.runningOut.set(true);
    v.show();
    expect(holdButton(v.host).disabled).toBe(true);
    expect(textOf(v.host)).toContain('wait until every motor has stopped');
    v.fake.runningOut.set(false);
    v.fake.propsOff.set(false);
    v.show();
    expect(holdButton(v.host).disabled).toBe(true);
  });
});

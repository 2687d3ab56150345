/** Spin, held on the simulated bench in virtual time: what a hold shows, what ends it, what an answer plans. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {afterEach, describe, expect, it} from 'vitest';
import type {ControllerPlan} from '@core/controller/plan';
import type {Craft, PlannedValue} from '@core/craft/craft';
import type {Problem} from '@core/problem';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {SpinHoldStore} from '../../state/spin/spin-hold.store';
import {StandInStore} from '../../state/stand-in.store';
import {fakeRecord} from '../../testing/fake-record';
import {button, fakeBench, fakeStandIn, finger, textOf} from '../../testing/fakes';
import {withoutCharts} from '../../testing/chart-stub.component';
import {MotorOrderComponent} from './motor-order.component';
import {SpinComponent} from './spin.component';

const asPlanned = new Harness();
await asPlanned.carryOut(await asPlanned.order());
const found = await asPlanned.survey();
afterEach(() => TestBed.resetTestingModule());

async function spin({isSurveyed = true, change = (_: ReturnType<typeof fakeBench>) => {}} = {}) {
  const h = new Harness();
  await h.carryOut(await h.order());
  await h.run(h.client.hello());
  await h.run(h.client.request('reports', {on: true}));
  const held: {end?: (why?: Problem) => void} = {};
  const fake = fakeBench();
  fake.propsOff.set(true);
  change(fake);
  const bench = {
    ...fake,
    requireClient: () => h.client,
    onReport: (listener: Parameters<typeof h.client.onReport>[0]) => h.client.onReport(listener),
    beginHold: (end: (why?: Problem) => void) => {
      held.end = end;
      return () => delete held.end;
    },
  };
  const record = fakeRecord({found: isSurveyed ? found : undefined});
  const {sightings} = record;
  const planned: unknown[] = [];
  const craft = signal<Craft>(juniper);
  TestBed.configureTestingModule({
    providers: [
      {provide: CLOCK, useValue: h.time},
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: fakeStandIn(fake.calls)},
      {
        provide: FleetStore,
        useValue: {
          current: craft,
          setController: (c: Partial<ControllerPlan>) => {
            planned.push(c);
            craft.update(({plan, ...rest}) => ({...rest, plan: {...plan, controller: {...plan.controller, ...c}}}));
          },
          setParameter: (key: string, value: PlannedValue) => {
            planned.push([key, value]);
            craft.update(({plan, ...rest}) => ({
              ...rest,
              plan: {...plan, parameters: {...plan.parameters, [key]: value}},
            }));
          },
        },
      },
      {provide: RecordStore, useValue: record},
      {provide: ShelfStore, useValue: {boardOf: () => undefined, catalogue: signal(undefined)}},
    ],
  });
  withoutCharts(MotorOrderComponent);
  const fixture = TestBed.createComponent(SpinComponent);
  const host = fixture.nativeElement as HTMLElement;
  const show = () => {
    fixture.detectChanges();
    return textOf(host);
  };
  show();
  const pass = (ms: number) => h.run(new Promise<void>((resolve) => h.time.after(ms, resolve))).then(show);
  const press = (type: 'pointerdown' | 'pointerup') => finger(host, 'Hold to turn', type);
  return {h, bench: fake, held, fixture, host, show, pass, press, sightings, planned};
}

describe('holding', () => {
  it('turns the output, shows throttle and pulse, and stops when let go', async () => {
    const {h, pass, press} = await spin();
    press('pointerdown');
    expect(await pass(4_000)).toMatch(/6\.0 % throttle, 10\d\d µs/);
    expect(h.bench.train.outputs.map((o) => o.state.omega > 100)).toEqual([true, false, false, false]);
    press('pointerup');
    const after = await pass(2_000);
    expect(h.bench.train.outputs.some((o) => o.throttle > 0)).toBe(false);
    expect(after).toContain('Output 1 has turned. Which arm is it, and which way?');
  });

  it('ends with its reason when the watch ends it', async () => {
    const {h, held, pass, press} = await spin();
    press('pointerdown');
    await pass(2_000);
    held.end!({code: 'page-hidden', place: 'hold', meaning: 'The page was hidden.', remedy: 'Hold again.'});
    expect(await pass(1_500)).toContain('The page was hidden.');
    expect(h.bench.train.outputs.some((o) => o.throttle > 0)).toBe(false);
  });

  it('stops when the page leaves the station', async () => {
    const {h, fixture, pass, press} = await spin();
    press('pointerdown');
    await pass(2_000);
    fixture.destroy();
    await h.run(new Promise<void>((resolve) => h.time.after(300, resolve)));
    expect(h.bench.train.outputs.some((o) => o.throttle > 0)).toBe(false);
  });

  it.each([
    ['propellers are not confirmed off', (b: ReturnType<typeof fakeBench>) => b.propsOff.set(false)],
    ['an order has the wires', (b: ReturnType<typeof fakeBench>) => b.occupied.set(true)],
    ['a motor still turns', (b: ReturnType<typeof fakeBench>) => b.runningOut.set(true)],
  ])('cannot be begun while %s', async (_, change) => {
    const {host} = await spin({change});
    expect(button(host, 'Hold to turn').disabled).toBe(true);
  });

  it('cannot be begun before anything was surveyed, and shows the way', async () => {
    const {host} = await spin({isSurveyed: false});
    expect(button(host, 'Hold to turn').disabled).toBe(true);
    expect(textOf(host)).toContain('Nothing was surveyed yet.');
  });
});

describe('an answer', () => {
  it('keeps what was seen with its start and coast-down, plans order and rotation, and goes to the next output', async () => {
    const {fixture, pass, press, sightings, planned, show} = await spin();
    press('pointerdown');
    await pass(4_500);
    press('pointerup');
    await pass(3_000);
    fixture.debugElement.injector.get(SpinHoldStore).answer({arm: 2, sense: 'counter-clockwise'});
    expect(sightings()).toHaveLength(1);
    expect(sightings()[0]).toMatchObject({output: 0, arm: 2, sense: 'counter-clockwise'});
    expect(sightings()[0]!.startsAtUs).toBeGreaterThan(1_010);
    expect(sightings()[0]!.startsAtUs).toBeLessThan(1_070);
    expect(sightings()[0]!.coastDownS).toBeGreaterThan(0.005);
    expect(planned[0]).toMatchObject({arms: expect.arrayContaining([2])});
    expect(show()).toContain('Next: output 2');
  });

  it('that it stuttered says what to try, and plans more start-up power on that motor alone', async () => {
    const {host, pass, press, planned, show} = await spin();
    press('pointerdown');
    await pass(1_500);
    press('pointerup');
    await pass(100);
    show();
    button(host, 'it stuttered').click();
    expect(show()).toContain('Output 1: it stuttered');
    expect(show()).toContain('Next: output 1');
    button(host, 'Plan 1085 and 1165 µs on motor 1').click();
    expect(planned).toEqual([
      ['startLow', {kind: 'per motor', values: [1085, 1060, 1060, 1060]}],
      ['startHigh', {kind: 'per motor', values: [1165, 1140, 1140, 1140]}],
    ]);
  });

  it('that nothing moved is held against the replies', async () => {
    const {host, pass, press, show} = await spin();
    press('pointerdown');
    await pass(4_500);
    press('pointerup');
    await pass(100);
    show();
    button(host, 'nothing moved').click();
    expect(show()).toMatch(/The replies of output 1 report up to \d+ rpm: something turned/);
  });
});

/** The bench store on a port source of the test's own, in virtual time: nothing of it knows what lies behind the port. */
import {TestBed} from '@angular/core/testing';
import {afterEach, beforeEach, describe, expect, it, vi} from 'vitest';
import type {Road} from '@core/link/operations';
import type {Found} from '@core/bench/found';
import {sleep} from '@core/link/port';
import {ProblemError} from '@core/problem';
import {openPort} from '@simulator/hardware/wires/port';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {CLOCK} from '../bench/page-clock';
import {PORT_SOURCE} from '../bench/port-source';
import {STAND_IN} from '../workers/stand-in';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {StandInStore} from './stand-in.store';

let ticking = false;
beforeEach(() => {
  // Every test is the only tab there is.
  vi.stubGlobal('navigator', {
    ...navigator,
    locks: {request: (_: string, __: unknown, callback: (lock: object) => Promise<void>) => callback({})},
  });
});
afterEach(() => {
  ticking = false;
  vi.unstubAllGlobals();
});

function connectable(h: Harness, fails?: ProblemError, standIn?: unknown) {
  const found: Found[] = [];
  const noticed: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      {provide: CLOCK, useValue: h.time},
      {
        provide: PORT_SOURCE,
        useValue: {open: () => (fails ? Promise.reject(fails) : Promise.resolve(openPort(h.bench)))},
      },
      {provide: STAND_IN, useValue: standIn},
      {provide: FleetStore, useValue: {crafts: () => [h.craft], currentId: () => h.craft.id}},
      {
        provide: RecordStore,
        useValue: {
          setFound: (f: Found) => found.push(f),
          knownEscs: () => h.known,
          found: () => found.at(-1),
          craftId: () => 'juniper',
          firstPower: () => undefined,
          noteFirstPower: (noted: unknown) => noticed.push(noted),
          addNote: (text: string) => noticed.push(text),
        },
      },
    ],
  });
  const bench = TestBed.inject(BenchStore);
  ticking = true;
  const tick = () => {
    if (!ticking) return;
    const next = h.time.next();
    if (next !== undefined) h.time.advanceTo(next);
    setImmediate(tick);
  };
  tick();
  return {bench, found, noticed};
}

const alder = () => new Harness({craft: demoCraft('alder')});

describe('the bench store, on any port', () => {
  it('takes road, outputs and abilities from hello, and has no stand-in beside it', async () => {
    const {bench, found} = connectable(new Harness());
    await bench.connectAndSurvey('juniper');
    expect(bench.status()).toBe('connected');
    expect(bench.hello()).toMatchObject({road: 'controller', outputs: 4});
    expect(bench.onAdapter()).toBe(false);
    expect(found).toHaveLength(1);
    expect(TestBed.inject(StandInStore).isPresent()).toBe(false);
    expect(() => TestBed.inject(StandInStore).setBattery(true)).toThrow('no stand-in');
  });

  it('knows a single-wire adapter by its hello', async () => {
    const {bench, found} = connectable(alder());
    await bench.connectAndSurvey('alder');
    expect(bench.onAdapter()).toBe(true);
    expect(found).toEqual([]);
  });

  it('shows why a port does not open', async () => {
    const problem = {code: 'port-held', place: 'port', meaning: 'Held.', remedy: 'Let go.'};
    const {bench} = connectable(new Harness(), new ProblemError(problem));
    await bench.connect('juniper');
    expect(bench.status()).toBe('unplugged');
    expect(bench.problemOf('juniper')).toEqual(problem);
    // It stood in the way of no other craft.
    expect(bench.problemOf('sorrel')).toBeUndefined();
    expect(bench.evidenceOf('juniper')).toEqual({code: 'port-held', bytes: 0, frames: 0});
    expect(bench.evidenceOf('sorrel')).toBeUndefined();
  });

  it('shows the cable that goes out, and frees the wires', async () => {
    const h = new Harness();
    const {bench} = connectable(h);
    await bench.connect('juniper');
    const surveying = bench.survey();
    h.time.after(500, () => h.bench.detach());
    await surveying;
    expect(bench.problem()?.code).toBe('cable-out');
    expect(bench.status()).toBe('unplugged');
    expect(bench.wires()).toBeUndefined();
  });
});

describe('a stand-in beside the port', () => {
  it('whose cable is moved connects again to the same craft, on the other road', async () => {
    const h = new Harness({craft: demoCraft('alder')});
    const control = {
      plugInto: (road: Road) => Promise.resolve(h.bench.plugInto(road)),
      state: () => Promise.resolve({road: h.bench.road}),
    };
    const {bench} = connectable(h, undefined, {control});
    const standIn = TestBed.inject(StandInStore);
    await bench.connect('alder');
    expect(bench.onAdapter()).toBe(true);
    await standIn.plugInto('controller');
    expect(bench.isConnected()).toBe(true);
    expect(bench.onAdapter()).toBe(false);
    expect(bench.craftId()).toBe('alder');
    expect(standIn.seen()?.road).toBe('controller');
  });
});

describe('the gate', () => {
  it('notes what a craft draws at its first power-up when the propellers are confirmed, and why a cap was raised', async () => {
    const {bench, noticed} = connectable(new Harness());
    await bench.connect('juniper');
    expect(bench.gate().map((l) => l.state)).toEqual(['right', 'right', 'right', 'ask']);
    bench.confirmPropsOff();
    expect(bench.gate().every((l) => l.state === 'right')).toBe(true);
    expect(noticed).toEqual([{at: expect.any(Number) as number, amps: 0.3}]);
    expect(bench.cap()).toBe(0.3);
    bench.raiseCap(0.5, 'a joint under load');
    expect([bench.cap(), noticed.at(-1)]).toEqual([
      0.5,
      'Throttle cap of the bench raised to 50 % for one session: a joint under load',
    ]);
    await bench.disconnect();
    expect(bench.cap()).toBe(0.3);
  });

  it('a bench whose battery was off is read again by itself, and nothing turns meanwhile', async () => {
    const h = new Harness();
    const {bench, found} = connectable(h);
    await bench.connectAndSurvey('juniper');
    const serials = () => found.at(-1)!.escs.map((e) => e.boot.serial);
    const before = serials();
    h.bench.setBattery(false);
    h.bench.swapEscs(0, 1);
    await sleep(h.time, 300);
    expect(found.length).toBe(1);
    h.bench.setBattery(true);
    await vi.waitUntil(() => bench.isPowered());
    expect(bench.wires()).toBe('survey');
    expect(() => bench.beginHold(() => undefined, 'hold')).toThrow(ProblemError);
    await vi.waitUntil(() => !bench.occupied(), 10_000);
    expect(found.length).toBe(2);
    expect(serials()).toEqual([before[1], before[0], ...before.slice(2)]);
    expect(found.at(-1)!.power.cycles).toBe(bench.moment()!.cycles);
  });

  it('confirms nothing while the craft draws too much at rest', async () => {
    const h = new Harness({setup: (first) => ({...first, supply: {...first.supply, restAmps: 3.1}})});
    const {bench} = connectable(h);
    await bench.connect('juniper');
    bench.confirmPropsOff();
    expect(bench.propsOff()).toBe(false);
  });
});

describe('the wires', () => {
  it('are one thing’s at a time, whatever it is', async () => {
    const {bench} = connectable(new Harness());
    await bench.connect('juniper');
    const release = bench.takeWires('order')!;
    expect(bench.occupied()).toBe(true);
    expect(bench.takeWires('survey')).toBeUndefined();
    expect(bench.problem()).toMatchObject({code: 'wires-taken', meaning: expect.stringContaining('work order')});
    bench.confirmPropsOff();
    expect(() => bench.beginHold(() => undefined, 'hold')).toThrow('work order is using the connection');
    release();
    const letGo = bench.beginHold(() => undefined, 'hold');
    expect(bench.wires()).toBe('hold');
    expect(bench.occupied()).toBe(false);
    expect(bench.takeWires('order')).toBeUndefined();
    letGo();
    expect(bench.wires()).toBeUndefined();
  });

  it('a hold that the stop control ends gives them back', async () => {
    const {bench} = connectable(new Harness());
    await bench.connect('juniper');
    bench.confirmPropsOff();
    let ended = 0;
    bench.beginHold(() => ended++, 'measurement');
    await bench.stopAll();
    expect(ended).toBe(1);
    expect(bench.wires()).toBeUndefined();
  });

  it('a hold that may not begin leaves them free', async () => {
    const {bench} = connectable(new Harness());
    await bench.connect('juniper');
    expect(() => bench.beginHold(() => undefined, 'hold')).toThrow();
    expect(bench.wires()).toBeUndefined();
  });
});

describe('an adapter', () => {
  it('of a version that is not spoken is told, with what to update', async () => {
    const h = new Harness();
    const {bench} = connectable(h);
    Object.defineProperty(h.bench, 'linkVersion', {value: 7});
    await bench.connect('juniper');
    expect(bench.status()).toBe('unplugged');
    expect(bench.problem()?.code).toBe('link-version');
  });
});

/** The stand-in bench beyond the undisturbed cable: adapter, dialects, modules, worn flash, foreign firmware, odd transfers. */
import {describe, expect, it} from 'vitest';
import {chips} from '@core/firmware/chips';
import {ProblemError} from '@core/problem';
import {foreignArm} from './benches/alder';
import {Mishaps} from './hardware/hands/mishaps';
import {Random} from './random';
import {demoCraft, Harness} from './testing/bench-harness';
import {VirtualTime} from '@core/link/virtual-time';
import {Wires} from './hardware/wires/wires';

const alder = () => new Harness({craft: demoCraft('alder')});
const codeOf = async (h: Harness, work: Promise<unknown>) => {
  const error: unknown = await h.run(work).then(
    () => undefined,
    (e: unknown) => e,
  );
  return error instanceof ProblemError ? error.problem.code : error;
};

describe('a single-wire adapter', () => {
  it('has one output, says which road it is, and reports no motors', async () => {
    const h = alder();
    expect(await h.run(h.client.request('hello', null))).toMatchObject({outputs: 1, road: 'single-wire'});
    expect(await codeOf(h, h.client.request('esc.enter', {output: 1}))).toBe('no-output');
    expect(await codeOf(h, h.client.request('spin', {hold: 1, sentMs: 0, leaseMs: 100, commands: []}))).toBe(
      'no-controller',
    );
    const motors: number[] = [];
    h.client.onReport((r) => motors.push(r.motors.length));
    await h.run(h.client.request('reports', {on: true}));
    for (let i = 0; i < 5; i++) await h.run(h.client.request('power', null));
    h.time.advanceTo(h.time.now() + 500);
    await h.run(h.client.request('power', null));
    expect(motors.length).toBeGreaterThan(0);
    expect(new Set(motors)).toEqual(new Set([0]));
  });

  it('speaks one dialect at a time; a flight controller has none to switch', async () => {
    const h = alder();
    h.bench.clippedTo = 2;
    expect(await codeOf(h, h.client.request('esc.enter', {output: 0}))).toBe('no-answer');
    await h.run(h.client.request('adapter.dialect', {dialect: 'B'}));
    expect(await h.run(h.client.request('esc.enter', {output: 0}))).toMatchObject({dialect: 'B', serial: 'B30-6341'});
    const juniper = new Harness();
    expect(await codeOf(juniper, juniper.client.request('adapter.dialect', {dialect: 'B'}))).toBe('unsupported');
  });

  it('moving the cable to the other road ends the connection', async () => {
    const h = alder();
    await h.run(h.client.request('hello', null));
    h.bench.plugInto('controller');
    await new Promise((r) => setImmediate(r));
    expect(h.client.isClosed).toBe(true);
    h.connect();
    expect(await h.run(h.client.request('hello', null))).toMatchObject({outputs: 6, road: 'controller'});
  });
});

describe('foreign firmware', () => {
  it('runs, answers the bootloader, and is gone once a page of it is erased', () => {
    const h = alder();
    const esc = h.bench.escs[foreignArm]!;
    expect([esc.state, esc.identity, esc.applicationValid, esc.firmwareMatchesBridge]).toEqual([
      'running',
      undefined,
      true,
      true,
    ]);
    esc.flash.erase(chips.M32.application.start);
    esc.start();
    expect([esc.state, esc.applicationValid]).toEqual(['bootloader', false]);
  });
});

describe('a reply module', () => {
  const withModule = async () => {
    const h = new Harness({craft: demoCraft('bramble')});
    await h.carryOut(await h.order());
    return h;
  };
  it('is cleared by the bootloader when the first page of its base is erased, and only then', async () => {
    const h = await withModule();
    const {flash} = h.bench.escs[0]!;
    const {module, application} = chips.M32;
    const blank = () => flash.view(module!.start, module!.end).every((b) => b === 0xff);
    await h.run(h.client.request('esc.enter', {output: 0}));
    await h.run(h.client.request('esc.erase', {output: 0, address: application.start + 4096}));
    expect(blank()).toBe(false);
    const began = h.time.now();
    await h.run(h.client.request('esc.erase', {output: 0, address: application.start}));
    expect(blank()).toBe(true);
    // Seven pages at 20 ms (hardware.md), and the command on the wire.
    expect(h.time.now() - began).toBeGreaterThan(140);
  });
  it('does not start on a base outside its bounds', async () => {
    const h = await withModule();
    const esc = h.bench.escs[1]!;
    expect(esc.repliesToDshot).toBe(true);
    esc.flash.bytes[chips.M32.module!.start + 200]! ^= 1;
    esc.start();
    expect([esc.module, esc.repliesToDshot]).toEqual([undefined, false]);
  });
});

describe('flash that is worn', () => {
  it('reads 0 where 1 was written, on that page only', () => {
    const {flash} = new Harness().bench.escs[0]!;
    flash.worn.add(20);
    flash.erase(20 * 1024);
    flash.write(20 * 1024, Uint8Array.of(0xaa, 0xbb));
    flash.erase(21 * 1024);
    flash.write(21 * 1024, Uint8Array.of(0xaa, 0xbb));
    expect([...flash.read(20 * 1024, 2), ...flash.read(21 * 1024, 2)]).toEqual([0, 0xbb, 0xaa, 0xbb]);
  });
});

describe('ESCs that answer late or not', () => {
  it('late by what was said', async () => {
    const time = async (lateMs: number) => {
      const h = new Harness();
      h.bench.escs[0]!.lateMs = lateMs;
      await h.run(h.client.request('esc.enter', {output: 0}));
      return h.time.now();
    };
    expect((await time(400)) - (await time(0))).toBeCloseTo(400, 5);
  });
  it('not at all, while the others do', async () => {
    const h = new Harness();
    h.bench.escs[0]!.silent = true;
    expect(await codeOf(h, h.client.request('esc.enter', {output: 0}))).toBe('no-answer');
    expect(await h.run(h.client.request('esc.enter', {output: 1}))).toMatchObject({chip: 'M32'});
  });
});

describe('a cable with mishaps', () => {
  it('doubles bytes, drops what is too long, and calls back at a byte', () => {
    const mishaps = new Mishaps(new Random(1));
    const called: string[] = [];
    mishaps.afterBytes(10, () => called.push('ten'));
    mishaps.afterBytes(25, () => called.push('twenty-five'));
    expect(mishaps.spoil(new Uint8Array(9))).toHaveLength(9);
    expect(called).toEqual([]);
    mishaps.spoil(new Uint8Array(5));
    expect(called).toEqual(['ten']);
    mishaps.longest = 16;
    expect(mishaps.spoil(new Uint8Array(17))).toHaveLength(0);
    expect(called).toEqual(['ten', 'twenty-five']);
    mishaps.longest = Infinity;
    mishaps.doubles = 1;
    expect([...mishaps.spoil(Uint8Array.of(1, 2))]).toEqual([1, 1, 2, 2]);
  });
});

describe('the single wires', () => {
  it('carry one command after the other, and tell which flash was being worked on when they are cut', () => {
    const time = new VirtualTime();
    const wires = new Wires(time, 2);
    const log: string[] = [];
    const job = (name: string) => [() => void log.push(name), () => void log.push(`${name} cut`)] as const;
    wires.run(0, {inMs: 5, outMs: 5}, ...job('first'));
    wires.run(0, {inMs: 5, flashMs: 20, outMs: 5, address: 4096, length: 1024}, ...job('second'));
    wires.run(1, {inMs: 3, outMs: 0}, ...job('other wire'));
    time.advanceTo(12);
    expect(log).toEqual(['other wire', 'first']);
    time.advanceTo(20);
    expect(wires.cut(0)).toMatchObject([{address: 4096, length: 1024}]);
    time.advanceTo(100);
    expect(log).toEqual(['other wire', 'first', 'second cut']);
    expect(wires.isBusy).toBe(false);
  });
});

/** A motor that was let go stays stopped, whatever the cable loses, repeats or delivers late. */
import {describe, expect, it} from 'vitest';
import {encodeMessage} from '@core/link/message';
import {ProblemError} from '@core/problem';
import {openPort} from '@simulator/hardware/wires/port';
import {Harness} from '@simulator/testing/bench-harness';
import {StallingPage} from '@simulator/testing/stalling-page';
import {BenchClient} from '../../link/client';
import type {BytePort} from '../../link/port';
import {sleep} from '../../link/port';
import {leaseMs, SpinLease, stopMotors} from './lease';

/** A bench whose requests are listed as they leave the client. */
async function bench() {
  const h = new Harness();
  await h.run(h.client.request('hello', null));
  const throttles = () => h.bench.train.outputs.map((o) => (h.time.now() <= o.leaseEnds ? o.throttle : 0));
  const pass = (ms: number) => h.run(new Promise<void>((resolve) => h.time.after(ms, resolve)));
  /** Longest run of ms in which a motor was commanded to turn, from now on. */
  const watch = async (ms: number) => {
    let turned = 0;
    for (let i = 0; i < ms; i++) {
      await pass(1);
      if (throttles().some((t) => t > 0)) turned++;
    }
    return turned;
  };
  const hold = (onLost?: (e: ProblemError) => void) => new SpinLease(h.client, h.time, onLost);
  return {h, throttles, pass, watch, hold};
}
const all = [0, 1, 2, 3].map((output) => ({output, throttle: 0.6}));
const codeOf = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (e: ProblemError) => e.problem.code,
  );

describe('a hold', () => {
  it('a renewal that got lost is never sent again: after the stop nothing turns', async () => {
    const {h, pass, watch, hold} = await bench();
    const lease = hold();
    lease.set(all);
    await pass(300);
    // The next renewals get lost; then the person lets go.
    h.bench.mishaps.longest = 0;
    await pass(100);
    h.bench.mishaps.longest = Infinity;
    await h.run(lease.stop());
    expect(await watch(3_000)).toBe(0);
    expect(h.client.counters.repeats).toBe(0);
  });

  it('a burst that swallows stop and renewals costs no more than the lease; the stop is sent until it is answered', async () => {
    const {h, pass, watch, hold} = await bench();
    const lease = hold();
    lease.set(all);
    await pass(300);
    h.bench.mishaps.longest = 0;
    const stopped = lease.stop();
    expect(await watch(1_500)).toBeLessThanOrEqual(200);
    h.bench.mishaps.longest = Infinity;
    await h.run(stopped);
    expect(h.client.counters.repeats).toBeGreaterThan(10);
    expect(await watch(2_000)).toBe(0);
  });

  it('one lost renewal does not end it, the loss of a whole lease does', async () => {
    const {h, pass, throttles, hold} = await bench();
    const lost: string[] = [];
    const lease = hold((e) => lost.push(e.problem.code));
    lease.set(all);
    await pass(300);
    h.bench.mishaps.longest = 0;
    await pass(60);
    h.bench.mishaps.longest = Infinity;
    await pass(400);
    expect([lost, throttles().every((t) => t > 0.5)]).toEqual([[], true]);
    h.bench.mishaps.longest = 0;
    await pass(700);
    expect(lost).toEqual(['unanswered']);
    h.bench.mishaps.longest = Infinity;
    await pass(500);
    // It ended for good: what comes later needs a new hold.
    expect(throttles()).toEqual([0, 0, 0, 0]);
    await h.run(lease.stop());
  });

  it('that the hardware has ended says so to whoever commands it on', async () => {
    const {h, pass, hold} = await bench();
    const lease = hold();
    lease.set(all);
    await pass(300);
    h.bench.mishaps.longest = 0;
    await pass(900);
    h.bench.mishaps.longest = Infinity;
    expect(() => lease.set(all)).toThrow(ProblemError);
    await h.run(lease.stop());
  });

  it('a page that stalls for a moment stops the motors, and goes on with the same hold', async () => {
    const {h, pass, throttles, hold} = await bench();
    const lease = hold();
    lease.set(all);
    await pass(300);
    h.bench.mishaps.longest = 0;
    await pass(320);
    expect(throttles()).toEqual([0, 0, 0, 0]);
    h.bench.mishaps.longest = Infinity;
    await pass(100);
    expect(throttles().every((t) => t > 0.5)).toBe(true);
    await h.run(lease.stop());
    expect(throttles()).toEqual([0, 0, 0, 0]);
  });

  it('a page that stalls turns nothing again before it has heard the hand that let go meanwhile', async () => {
    const h = new Harness();
    const page = new StallingPage(h.time, 1e-4, 5e5);
    const client = new BenchClient(page.behind(openPort(h.bench)), page);
    await h.run(client.request('hello', null));
    for (const [held, stalled, letGoAfter] of [
      [40, 300, 30],
      [200, 250, 240],
      [333, 450, 10],
    ] as const) {
      const lease = new SpinLease(client, page);
      lease.set(all);
      await h.run(sleep(h.time, held));
      page.stall(stalled);
      await h.run(sleep(h.time, letGoAfter));
      // The hand is off: the page hears of it when it is awake, after the timers that came due. The first stop gets lost.
      const stopped = new Promise<void>((resolve) => page.whenAwake(resolve)).then(() => {
        h.bench.mishaps.longest = 12;
        h.time.after(5, () => (h.bench.mishaps.longest = Infinity));
        return lease.stop();
      });
      const letGoMs = h.time.now();
      let last = letGoMs;
      const watch = () => {
        if (h.bench.train.outputs.some((o) => o.throttle > 0 && h.time.now() <= o.leaseEnds)) last = h.time.now();
        if (h.time.now() < letGoMs + 1_500) h.time.after(1, watch);
      };
      watch();
      await h.run(stopped);
      await h.run(sleep(h.time, 1_500));
      expect(last - letGoMs).toBeLessThanOrEqual(leaseMs + 2);
    }
  });

  it('there is one at a time: the second is refused, and may begin when the first has let go', async () => {
    const {h, hold} = await bench();
    const first = hold();
    expect(() => hold()).toThrow('Only one hold can run at a time.');
    await h.run(first.stop());
    const second = hold();
    expect(second.hold).toBeGreaterThan(first.hold);
    await h.run(second.stop());
  });

  it('numbers go on rising for a client that connects anew', async () => {
    const {h, hold} = await bench();
    const first = hold();
    first.set(all);
    await h.run(first.stop());
    const again = h.connect();
    expect(() => again.takeHold()).toThrow('No hello yet');
    await h.run(again.request('hello', null));
    expect(again.takeHold()).toBeGreaterThan(first.hold);
  });

  it('a stop on a link that has died ends with it', async () => {
    const {h, pass, hold} = await bench();
    const lease = hold();
    lease.set(all);
    await pass(200);
    h.bench.mishaps.longest = 0;
    await h.run(lease.stop());
    expect(h.client.isClosed).toBe(true);
    await expect(h.client.request('hello', null)).rejects.toMatchObject({problem: {code: 'link-silent'}});
  });

  it('a port that takes nothing any more ends a stop at once', async () => {
    const {h} = await bench();
    const dead: BytePort = {
      readable: {getReader: () => ({read: () => new Promise(() => undefined), cancel: () => Promise.resolve()})},
      writable: {getWriter: () => ({write: () => Promise.reject(new Error('gone')), close: () => Promise.resolve()})},
    };
    const client = new BenchClient(dead, h.time);
    await h.run(stopMotors(client, 3));
    expect(client.isClosed).toBe(true);
  });
});

describe('a hold whose first renewals get lost', () => {
  it('turns nothing until one was answered quickly: a copy that comes late begins no motion', async () => {
    const {h, pass, throttles, hold} = await bench();
    h.bench.mishaps.longest = 0;
    const lease = hold();
    lease.set(all);
    const [sentMs] = [h.time.now()];
    await pass(300);
    // The copy of the first renewal comes 300 ms late, the person lets go, the stop is lost for a while.
    const zero = [0, 1, 2, 3].map((output) => ({output, value: 0}));
    const copy = (commands: object[]) =>
      encodeMessage({sequence: 950, operation: 'spin', argument: {hold: lease.hold, sentMs, leaseMs: 200, commands}});
    h.bench.receive(copy(zero));
    expect(throttles()).toEqual([0, 0, 0, 0]);
    h.bench.mishaps.longest = Infinity;
    await pass(100);
    expect(throttles().every((t) => t > 0.5)).toBe(true);
    await h.run(lease.stop());
  });

  it('the lease counts from when a renewal was sent: one kept back for 100 ms turns 100 ms at most', async () => {
    const {h, pass, throttles} = await bench();
    const at = (sequence: number, sentMs: number, value: number) =>
      encodeMessage({
        sequence,
        operation: 'spin',
        argument: {hold: 1, sentMs, leaseMs: 200, commands: [{output: 0, value}]},
      });
    const start = h.time.now();
    h.bench.receive(at(950, start, 0));
    await pass(100);
    h.bench.receive(at(951, start, 600));
    expect(throttles()[0]).toBeGreaterThan(0);
    await pass(101);
    expect(throttles()[0]).toBe(0);
  });
});

describe('the adapter', () => {
  const ask = (h: Harness, hold: number, value: number) =>
    codeOf(h.client.request('spin', {hold, sentMs: h.time.now(), leaseMs: 200, commands: [{output: 0, value}]}));
  /** Begins a hold, or goes on with it, and turns motor 1. */
  const spin = async (h: Harness, hold: number) => {
    const begun = await h.run(ask(h, hold, 0));
    return begun === 'done' ? h.run(ask(h, hold, 600)) : begun;
  };

  it('a hold begins with a renewal that turns nothing', async () => {
    const {h, throttles} = await bench();
    expect(await h.run(ask(h, 1, 600))).toBe('not-begun');
    expect(throttles()[0]).toBe(0);
    expect(await spin(h, 1)).toBe('done');
    expect(throttles()[0]).toBeGreaterThan(0);
  });

  it('refuses what belongs to an ended hold: stopped, run out, power off in between, or overtaken', async () => {
    const {h, pass, throttles} = await bench();
    expect(await spin(h, 1)).toBe('done');
    await h.run(h.client.request('spin.stop', {hold: 1}));
    expect([await spin(h, 1), throttles()[0]]).toEqual(['hold-ended', 0]);
    expect(await spin(h, 2)).toBe('done');
    await pass(600);
    expect([await spin(h, 2), throttles()[0]]).toEqual(['hold-ended', 0]);
    expect(await spin(h, 3)).toBe('done');
    h.bench.setBattery(false);
    h.bench.setBattery(true);
    expect([await spin(h, 3), throttles()[0]]).toEqual(['hold-ended', 0]);
    expect(await spin(h, 5)).toBe('done');
    expect(await spin(h, 4)).toBe('hold-ended');
  });

  it('a renewal that was kept back on its way turns nothing, though its hold is alive', async () => {
    const {h, pass, throttles} = await bench();
    const renewal = (sequence: number, sentMs: number, value = 600) =>
      encodeMessage({
        sequence,
        operation: 'spin',
        argument: {hold: 1, sentMs, leaseMs: 200, commands: [{output: 0, value}]},
      });
    const first = h.time.now();
    h.bench.receive(renewal(900, first, 0));
    h.bench.receive(renewal(901, first));
    // Sent 40 ms later, and lost on its first way; the copy comes when the lease has just run out.
    const kept = renewal(902, first + 40);
    await pass(230);
    h.bench.receive(kept);
    expect(throttles()[0]).toBe(0);
    // One that is sent now goes on with the hold.
    h.bench.receive(renewal(903, h.time.now()));
    expect(throttles()[0]).toBeGreaterThan(0);
  });

  it('a stop names its hold: an older one stops no newer hold, a newer one is ended before it began', async () => {
    const {h, throttles} = await bench();
    await spin(h, 7);
    await h.run(h.client.request('spin.stop', {hold: 6}));
    expect(throttles()[0]).toBeGreaterThan(0);
    await h.run(h.client.request('spin.stop', {hold: 9}));
    expect([throttles()[0], await spin(h, 9)]).toEqual([0, 'hold-ended']);
  });

  it('turns nothing without power: a battery that comes back starts no motor', async () => {
    const {h, pass} = await bench();
    h.bench.setBattery(false);
    expect(await spin(h, 1)).toBe('no-power');
    h.bench.setBattery(true);
    await pass(100);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });

  it('a copy of a request that comes seconds later is answered, not carried out again', async () => {
    const {h, throttles} = await bench();
    await spin(h, 1);
    const frame = encodeMessage({
      sequence: 900,
      operation: 'spin',
      argument: {hold: 1, sentMs: h.time.now(), leaseMs: 500, commands: [{output: 0, value: 600}]},
    });
    h.bench.receive(frame);
    expect(throttles()[0]).toBeGreaterThan(0);
    for (let i = 0; i < 100; i++) await h.run(h.client.request('power', null));
    await h.run(h.client.request('spin.stop', {hold: 1}));
    h.bench.receive(frame);
    expect(throttles()[0]).toBe(0);
  });
});

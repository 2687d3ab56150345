/** Whatever bytes come, neither side throws, hangs or lies. Seeds are fixed and printed by fast-check on failure. */
import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {BenchClient} from './client';
import {encodeMessage} from './message';
import type {BytePort} from './port';
import {VirtualTime} from './virtual-time';

/** A port whose far end is the test. */
function wiredPort() {
  const sent: Uint8Array[] = [];
  let push: ((result: {done: boolean; value?: Uint8Array}) => void) | undefined;
  const waiting: {done: boolean; value?: Uint8Array}[] = [];
  const port: BytePort = {
    readable: {
      getReader: () => ({
        read: () => {
          const next = waiting.shift();
          return next ? Promise.resolve(next) : new Promise((resolve) => (push = resolve));
        },
        cancel: () => Promise.resolve(),
      }),
    },
    writable: {
      getWriter: () => ({
        write: (bytes) => {
          sent.push(bytes);
          return Promise.resolve();
        },
        close: () => Promise.resolve(),
      }),
    },
  };
  const deliver = (result: {done: boolean; value?: Uint8Array}) => {
    if (push) {
      push(result);
      push = undefined;
    } else waiting.push(result);
  };
  return {port, sent, receive: (value: Uint8Array) => deliver({done: false, value}), end: () => deliver({done: true})};
}
const breathe = () => new Promise((r) => setImmediate(r));

describe('the client', () => {
  it('says what to do where an adapter has no hold number left', async () => {
    const {port, receive} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    const greeted = client.hello();
    const hello = {link: 1, adapter: 'a', abilities: ['spin'], outputs: 4, startId: 's', road: 'controller'};
    receive(encodeMessage({sequence: 1, operation: 'done', argument: {...hello, lastHold: 0xffffffff}}));
    await greeted;
    expect(() => client.takeHold()).toThrow(
      expect.objectContaining({problem: expect.objectContaining({code: 'no-hold-left'})}),
    );
  });

  it('answers a request after any noise before it', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({maxLength: 200}), async (noise) => {
        const time = new VirtualTime();
        const {port, receive} = wiredPort();
        const client = new BenchClient(port, time);
        const answer = client.request('power', null);
        receive(noise);
        receive(encodeMessage({sequence: 1, operation: 'done', argument: {volts: 24, amps: 1, cycles: 3}}));
        // Noise that ends in an escape may eat the first frame: then the repeat is answered.
        await breathe();
        time.advanceTo(900);
        receive(encodeMessage({sequence: 1, operation: 'done', argument: {volts: 24, amps: 1, cycles: 3}}));
        expect(await answer).toEqual({volts: 24, amps: 1, cycles: 3});
      }),
      {seed: 51, numRuns: 80},
    );
  });

  it('an answer of the wrong shape is a protocol error, not an exception in a view', async () => {
    const {port, receive} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    const answer = client.request('power', null);
    receive(encodeMessage({sequence: 1, operation: 'done', argument: {volts: 'many'}}));
    await expect(answer).rejects.toMatchObject({
      problem: {code: 'protocol-error', place: 'bench link', remedy: 'Update the adapter.'},
    });
    expect(client.counters.badFrames).toBe(1);
  });

  it('a refusal without a reason still is one', async () => {
    const {port, receive} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    const answer = client.request('hello', null);
    receive(encodeMessage({sequence: 1, operation: 'refused', argument: 7}));
    await expect(answer).rejects.toMatchObject({problem: {code: 'unknown', meaning: 'no reason given'}});
  });

  it('answers that nobody asked for, and bad reports, change nothing', async () => {
    const {port, receive} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    let reports = 0;
    client.onReport(() => reports++);
    receive(encodeMessage({sequence: 99, operation: 'done', argument: null}));
    receive(encodeMessage({sequence: 0, operation: 'report', argument: {atMs: 'now'}}));
    await breathe();
    expect([reports, client.counters.badFrames, client.isClosed]).toEqual([0, 1, false]);
  });

  it('a restart is never repeated', async () => {
    const time = new VirtualTime();
    const {port, sent} = wiredPort();
    const client = new BenchClient(port, time);
    const answer = client.request('controller.restart', null);
    time.advanceTo(60_000);
    await expect(answer).rejects.toMatchObject({
      problem: {code: 'unanswered', meaning: 'No answer in 1 attempt of 3000 ms.'},
    });
    expect(sent).toHaveLength(1);
  });

  it('tells each listener once that the port ended, also one that comes late', async () => {
    const {port, end} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    const codes: string[] = [];
    const off = client.onClose(() => codes.push('taken back'));
    off();
    off();
    client.onClose((p) => codes.push(p.code));
    end();
    await breathe();
    client.onClose((p) => codes.push(`late ${p.code}`));
    await client.close();
    await client.close();
    expect(codes).toEqual(['cable-out', 'late cable-out']);
  });

  it('numbers requests from 1 to 65535 and over again', async () => {
    const {port, sent, receive} = wiredPort();
    const client = new BenchClient(port, new VirtualTime());
    for (let i = 0; i < 3; i++) void client.request('hello', null).catch(() => undefined);
    expect(new Set(sent.map((s) => [...s].join())).size).toBe(3);
    receive(new Uint8Array(0));
    await client.close();
  });
});

describe('the bench', () => {
  it('survives any bytes and still answers', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.uint8Array({maxLength: 120}), {maxLength: 12}), async (junk) => {
        const h = new Harness();
        for (const bytes of junk) h.bench.receive(bytes);
        h.bench.receive(Uint8Array.of(0xc0));
        expect(await h.run(h.client.request('hello', null))).toMatchObject({link: 1, outputs: 4});
      }),
      {seed: 52, numRuns: 60},
    );
  });

  it('well-formed requests with any argument are answered or refused, and the bootloader never changes', async () => {
    const names = [
      'esc.enter',
      'esc.leave',
      'esc.read',
      'esc.checksum',
      'esc.erase',
      'esc.write',
      'spin',
      'controller.set',
      'fly away',
    ];
    const argument = fc.oneof(
      fc.constant(null),
      fc.record({
        output: fc.integer({min: -1, max: 5}),
        address: fc.integer({min: -10, max: 70_000}),
        length: fc.integer({min: 0, max: 300}),
      }),
      fc.record({
        output: fc.integer({min: 0, max: 3}),
        address: fc.integer({min: 0, max: 66_000}),
        bytes: fc.uint8Array({maxLength: 256}),
      }),
      fc.anything({maxDepth: 1, withBigInt: false}).filter((v) => typeof v !== 'symbol' && typeof v !== 'function'),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.constantFrom(...names), argument), {maxLength: 15}), async (calls) => {
        const h = new Harness();
        const before = h.bench.escs.map((e) => Buffer.from(e.flash.read(0, 0x1000)));
        calls.forEach(([operation, value], i) =>
          h.bench.receive(encodeMessage({sequence: i + 1, operation, argument: value})),
        );
        h.time.advanceTo(10_000);
        await breathe();
        h.bench.escs.forEach((e, i) => expect(before[i]!.equals(Buffer.from(e.flash.read(0, 0x1000)))).toBe(true));
        expect(h.bench.isBusy).toBe(false);
      }),
      {seed: 53, numRuns: 60},
    );
  });
});

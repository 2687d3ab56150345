/** Bursts: rows by hand, read through a link that spoils, and as the stand-in keeps them. */
import {describe, expect, it} from 'vitest';
import {throttleValue} from '../dshot/command';
import {encodePeriod} from '../dshot/reply';
import {ProblemError} from '../problem';
import {Harness} from '@simulator/testing/bench-harness';
import {openFaultyPort} from '@simulator/testing/faulty-adapter';
import {burstRowBytes, decodeBurst, encodeBurstRow, noCurrentSense, noReplyWord, readBurst} from './burst';
import {BenchClient} from './client';
import {burstHz} from '../spin/script/run-script';

const problemOf = (work: Promise<unknown>) =>
  work.then(
    () => undefined,
    (error: unknown) => (error as ProblemError).problem.code,
  );

describe('a row', () => {
  it('by hand: 1000 µs, 24.1 V, a period of 2857 µs, 5 % throttle, −1.5 A', () => {
    // 2857 = 357 · 8 + 1: mantissa 357, exponent 3, so 2856 µs; 0.05 · 1999 + 48 = 148.
    const row = encodeBurstRow({
      us: 1000,
      volts: 24.1,
      cells: [{reply: encodePeriod(2857), value: throttleValue(0.05), centiamps: -150}],
    });
    expect([...row]).toEqual([0, 0, 0x03, 0xe8, 0x09, 0x6a, 0x07, 0x65, 0, 148, 0xff, 0x6a]);
    const {timeS, volts, outputs} = decodeBurst(row, 1);
    expect([timeS[0], volts[0]]).toEqual([0.001, 24.1]);
    expect(outputs[0]!.erpm[0]).toBeCloseTo(60e6 / 2856, 9);
    expect(outputs[0]!.throttle[0]).toBeCloseTo(0.05, 3);
    expect(outputs[0]!.amps![0]).toBe(-1.5);
  });
  it('tells a motor that stands, a reply that did not come, and an ESC without a sense apart', () => {
    const cells = [
      {reply: encodePeriod('stopped'), value: 0, centiamps: 0},
      {reply: noReplyWord, value: 0, centiamps: 0},
    ];
    const row = encodeBurstRow({us: 0, volts: 0, cells});
    new DataView(row.buffer).setInt16(6 + 4, noCurrentSense);
    const {outputs} = decodeBurst(row, 2);
    expect(outputs[0]!.erpm[0]).toBe(0);
    expect(outputs[1]!.erpm[0]).toBeNaN();
    expect(outputs[0]!.amps).toBeUndefined();
    expect(Array.from(outputs[1]!.amps!)).toEqual([0]);
    expect(row).toHaveLength(burstRowBytes(2));
  });
});

describe('the rate', () => {
  it.each([
    [2000, 4, 8000, 8000, 2000],
    // 10 s of at most 8000 rows: 800 Hz would do, the loop of 8 kHz over 10.
    [2000, 10, 8000, 8000, 800],
    [2000, 3, 5000, 8000, 1600],
    [5000, 1, 8000, 4000, 4000],
  ])(
    '%i Hz wished for, %i s, %i rows of memory, a loop of %i Hz: %i Hz',
    (...[wanted, seconds, memoryRows, mostHz, rate]) =>
      expect(burstHz(seconds, {memoryRows, mostHz}, wanted)).toBeCloseTo(rate, 9),
  );
});

describe('the stand-in', () => {
  it('keeps rows while the motors stand, at the loop rate over a whole number, and forgets the burst before', async () => {
    const h = new Harness();
    await h.run(h.client.request('burst.start', {rateHz: 1000, rows: 50}));
    await h.run(new Promise<void>((resolve) => h.time.after(20, resolve)));
    expect((await h.run(h.client.request('burst.state', null))).kept).toBeGreaterThan(15);
    await h.run(h.client.request('burst.start', {rateHz: 500, rows: 30}));
    await h.run(new Promise<void>((resolve) => h.time.after(200, resolve)));
    const read = await h.run(readBurst(h.client, {outputs: 4}));
    read.timeS.forEach((s, i) => expect(s).toBeCloseTo(i / 500, 9));
    expect(read.timeS).toHaveLength(30);
  });
  it('is read piece by piece with its progress, and can be stopped', async () => {
    const h = new Harness();
    await h.run(h.client.request('burst.start', {rateHz: 2000, rows: 200}));
    await h.run(new Promise<void>((resolve) => h.time.after(400, resolve)));
    const shares: number[] = [];
    const cancel = {aborted: false};
    await h.run(readBurst(h.client, {outputs: 4, onProgress: (share) => shares.push(share)}));
    expect(shares).toEqual([0.32, 0.64, 0.96, 1]);
    const stopped = readBurst(h.client, {outputs: 4, cancel, onProgress: () => (cancel.aborted = true)});
    expect(await h.run(problemOf(stopped))).toBe('burst-cancelled');
    expect(await h.run(problemOf(readBurst(h.client, {outputs: 6})))).toBe('burst-rows');
  });
  it('a piece whose bytes do not match their checksum is asked for again, and refused after three times', async () => {
    const h = new Harness();
    const client = new BenchClient(openFaultyPort(h.bench, 'spoils-pieces'), h.time);
    await h.run(client.request('burst.start', {rateHz: 1000, rows: 20}));
    await h.run(new Promise<void>((resolve) => h.time.after(100, resolve)));
    expect(await h.run(problemOf(readBurst(client, {outputs: 4})))).toBe('burst-spoilt');
  });
});

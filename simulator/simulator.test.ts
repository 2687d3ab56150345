import {describe, expect, it} from 'vitest';
import {chips} from '@core/firmware/chips';
import {flatten} from '@core/firmware/image';
import {ProblemError} from '@core/problem';
import {bothWays} from '@core/settings/parameters/special-values';
import {defaultSettings, encodeSettings} from '@core/settings/page';
import {SpinLease} from '@core/spin/hold/lease';
import {measureReplies} from '@core/spin/replies/measure-replies';
import {replyLoss, type ReplyMeasure} from '@core/replies/replies';
import {Harness} from './testing/bench-harness';
import {Flash} from './hardware/esc/flash';
import {meridianImage, meridianReleases} from './firmware/meridian';
import {Random} from './random';
import {runInVirtualTime, VirtualTime} from '@core/link/virtual-time';

const measure = (h: Harness, cancel = {aborted: false}) =>
  h.run(
    measureReplies(h.client, {
      outputs: 4,
      poles: 14,
      kv: 1750,
      bothWays: [],
      timingShares: [],
      clock: h.time,
      cancel,
      idle: 0.04,
    }),
  );
const setController = async (h: Harness, config: Parameters<typeof h.bench.controller.set>[0]) => {
  await h.run(h.client.request('controller.set', config));
  await h.run(h.client.request('controller.save', null));
  await h.run(h.client.request('controller.restart', null));
};
/** Puts an image into an ESC as a foreign tool would: past every check of Bidex. */
const plant = (h: Harness, output: number, image: ReturnType<typeof meridianImage>) => {
  const esc = h.bench.escs[output]!;
  esc.flash.bytes.set(flatten(image, chips.M32.application), chips.M32.application.start);
  esc.start();
};
const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};
const withReplies = async () => {
  const h = new Harness();
  for (let o = 0; o < 4; o++) plant(h, o, meridianImage('4.2', gneiss));
  await setController(h, {protocol: 'dshot300', replies: true, loopHz: 4000});
  return h;
};

describe('flash', () => {
  it('erases to 0xFF, only clears bits on a write, reports the pages it changed', () => {
    const changed: number[] = [];
    const flash = new Flash(chips.M32, new Uint8Array(65_536), (p) => changed.push(p));
    flash.write(10, Uint8Array.of(0xff));
    expect(flash.read(10, 1)[0]).toBe(0);
    flash.erase(0x400);
    flash.write(0x7ff, Uint8Array.of(0x0f, 0xf0));
    expect([...flash.read(0x7ff, 2)]).toEqual([0x0f, 0]);
    expect(changed).toEqual([0, 1, 1, 2]);
  });
});

describe('power', () => {
  it('that goes in an erase leaves that page undefined and the others as they were', async () => {
    const h = new Harness();
    await h.run(h.client.request('esc.enter', {output: 1}));
    const before = h.bench.escs[1]!.flash.bytes.slice();
    const erase = h.client.request('esc.erase', {output: 1, address: 0x3000});
    h.time.after(10, () => h.bench.setBattery(false));
    await expect(h.run(erase)).rejects.toBeInstanceOf(ProblemError);
    const after = h.bench.escs[1]!.flash.bytes;
    const differs = [...after.keys()].filter((i) => after[i] !== before[i]);
    expect(Math.min(...differs)).toBeGreaterThanOrEqual(0x3000);
    expect(Math.max(...differs)).toBeLessThan(0x3400);
    expect(after.subarray(0x3000, 0x3400).every((b) => b === 0xff)).toBe(false);
  });

  it('of USB is not power for ESCs: they are silent, the controller is not', async () => {
    const h = new Harness();
    h.bench.setBattery(false);
    const found = await h.survey();
    expect(found.silent.map((s) => s.problem.code)).toEqual(Array(4).fill('no-power'));
    expect(found.silent[0]!.problem.remedy).toBe('USB does not power the ESCs. Connect the battery.');
    expect(found.controller!.identity.board).toBe('Slate F');
  });
});

describe('a spin lease', () => {
  it('that nobody renews stops the motor, whatever happened to the program', async () => {
    const h = await withReplies();
    for (const value of [0, 300])
      await h.run(h.client.request('spin', {hold: 1, sentMs: 0, leaseMs: 200, commands: [{output: 0, value}]}));
    h.time.advanceTo(h.time.now() + 150);
    expect(h.bench.train.outputs[0]!.state.omega).toBeGreaterThan(100);
    h.bench.detach();
    h.time.advanceTo(h.time.now() + 100);
    expect(h.bench.train.outputs[0]!.throttle).toBe(0);
    h.time.advanceTo(h.time.now() + 3000);
    expect(h.bench.train.isActive).toBe(false);
  });

  it('renews itself while held, stops when stopped, twice without harm', async () => {
    const h = await withReplies();
    await h.run(h.client.request('hello', null));
    const lease = new SpinLease(h.client, h.time);
    lease.set([{output: 2, throttle: 0.1}]);
    await h.run(new Promise<void>((resolve) => h.time.after(900, resolve)));
    expect(h.bench.train.outputs.map((o) => o.throttle > 0)).toEqual([false, false, true, false]);
    await h.run(lease.stop());
    await h.run(lease.stop());
    expect(h.bench.train.outputs[2]!.throttle).toBe(0);
    expect(() => lease.set([])).toThrow('The lease has ended');
  });

  it('both ways: below the middle of the throttle a motor turns backwards, above it forward', async () => {
    const h = await withReplies();
    const esc = h.bench.escs[0]!;
    const page = esc.flash.read(0xf800, 1024);
    page.set(encodeSettings(8, {...defaultSettings(8), rotation: bothWays}, page.subarray(0, 64)));
    esc.flash.bytes.set(page, 0xf800);
    esc.start();
    const clockwiseAt = (value: number) => {
      h.bench.train.command(0, value, {leaseEnds: h.time.now() + 2000});
      for (let ms = 0; ms < 400; ms++) h.bench.train.step(h.time.now());
      const {omega} = h.bench.train.outputs[0]!.state;
      h.bench.train.stop();
      for (let ms = 0; ms < 3000; ms++) h.bench.train.step(h.time.now());
      return [omega > 100, h.bench.train.turnsClockwise(0)];
    };
    expect([clockwiseAt(48 + 400), clockwiseAt(1048 + 400), clockwiseAt(0)[0]]).toEqual([
      [true, false],
      [true, true],
      false,
    ]);
  });

  it('turns an ESC over when its rotation setting says so', async () => {
    const h = await withReplies();
    expect([0, 1, 2, 3].map((o) => h.bench.train.turnsClockwise(o))).toEqual([true, true, false, false]);
  });
});

/** The highest share lost by a motor at any level. */
const worstLoss = (measures: readonly ReplyMeasure[]) =>
  Math.max(...measures.flatMap((m) => m.motors.map((motor) => replyLoss(motor)!)));

describe('replies', () => {
  it('none is lost on a right bench; letting go gives no proof', async () => {
    const h = await withReplies();
    expect(worstLoss(await measure(h))).toBe(0);
    const cancel = {aborted: false};
    h.time.after(1500, () => (cancel.aborted = true));
    await expect(measure(h, cancel)).rejects.toMatchObject({problem: {code: 'let-go'}});
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });

  it('all are lost by an ESC whose firmware has none (facts: 100 % means not enabled)', async () => {
    const h = await withReplies();
    plant(h, 3, meridianImage('3.9', gneiss));
    const motors = (await measure(h))[0]!.motors;
    expect(motors.map((m) => m.lost / m.asked)).toEqual([0, 0, 0, 1]);
  });

  it('some are lost when DShot300 meets an 8 kHz loop, and with noise on the wire', async () => {
    const h = await withReplies();
    await setController(h, {loopHz: 8000});
    expect(worstLoss(await measure(h))).toBeGreaterThan(0.05);
    await setController(h, {loopHz: 4000});
    h.bench.train.wireNoise = 0.03;
    expect(worstLoss(await measure(h))).toBeCloseTo(0.03, 2);
  });

  it('without replies there is nothing to measure, and no speed', async () => {
    const h = new Harness();
    const measures = await measure(h);
    expect(measures.flatMap((m) => m.motors.map(replyLoss)).every((l) => l === undefined)).toBe(true);
    expect(measures[2]!.motors[0]!.rpm).toBeNull();
  });
});

describe('a wrong image', () => {
  it('burns the bridge at the first spin, and only at the first spin', async () => {
    const h = await withReplies();
    plant(h, 1, meridianImage('4.2', {board: 'Basalt 30', deadTimeNs: 30}));
    expect(h.bench.escs[1]!.burnt).toBe(false);
    for (const value of [0, 200])
      await h.run(h.client.request('spin', {hold: 1, sentMs: 0, leaseMs: 200, commands: [{output: 1, value}]}));
    h.time.advanceTo(h.time.now() + 60);
    expect(h.bench.escs[1]!.burnt).toBe(true);
    expect(h.bench.train.amps).toBeGreaterThan(50);
    await expect(h.run(h.client.request('esc.enter', {output: 1}))).rejects.toMatchObject({
      problem: {code: 'no-power'},
    });
  });
});

describe('Meridian', () => {
  it('has an image for every release, the same at every call, different from the one before', () => {
    const images = meridianReleases.map((r) => meridianImage(r.version, gneiss).segments[0]!.bytes);
    images.forEach((bytes, i) => {
      expect(bytes).toEqual(meridianImage(meridianReleases[i]!.version, gneiss).segments[0]!.bytes);
      if (i) expect(Buffer.from(bytes).equals(Buffer.from(images[i - 1]!))).toBe(false);
    });
    expect(() => meridianImage('9.9', gneiss)).toThrow('There is no Meridian 9.9');
  });
});

describe('virtual time and chance', () => {
  it('runs events in order, takes them back, and says when nothing is left to happen', async () => {
    const time = new VirtualTime();
    const seen: string[] = [];
    time.after(20, () => seen.push('b'));
    time.after(10, () => seen.push('a'));
    const cancel = time.after(15, () => seen.push('never'));
    cancel();
    cancel();
    time.advanceTo(30);
    expect(seen).toEqual(['a', 'b']);
    await expect(
      runInVirtualTime(time, () => new Promise((r) => setImmediate(r)), new Promise(() => undefined)),
    ).rejects.toThrow('nothing is due');
  });
  it('the same seed gives the same numbers, spread as they should be', () => {
    const a = new Random(9);
    const b = new Random(9);
    const normals = Array.from({length: 20_000}, () => a.normal());
    expect(Array.from({length: 20_000}, () => b.normal())).toEqual(normals);
    const mean = normals.reduce((x, y) => x + y) / normals.length;
    expect(Math.abs(mean)).toBeLessThan(0.03);
    expect(normals.reduce((x, y) => x + y * y, 0) / normals.length).toBeCloseTo(1, 1);
  });
});

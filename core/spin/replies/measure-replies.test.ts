/** The reply proof on the simulated bench: what used to pass and must not. */
import {describe, expect, it} from 'vitest';
import type {MotorConstants} from '@core/motor/motor';
import {Harness} from '@simulator/testing/bench-harness';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {judgeReplies} from '../../replies/replies';
import {measureReplies} from './measure-replies';
import {replyQuestion} from './reply-question';

/** Juniper after its order, with one motor changed. */
async function bench(change: Partial<MotorConstants>, motor = 2) {
  const setup = (first: BenchSetup): BenchSetup => ({
    ...first,
    escs: first.escs.map((e, i) => (i === motor ? {...e, motor: {...e.motor, ...change}} : e)),
  });
  const h = new Harness({setup});
  const order = await h.order({leaveSteps: ['prove-replies']});
  if ((await h.carryOut(order)).kind !== 'finished') throw new Error('The order did not finish');
  const measure = (over: object = {}) =>
    h.run(
      measureReplies(h.client, {
        ...replyQuestion(h.craft, undefined),
        cancel: {aborted: false},
        clock: h.time,
        ...over,
      }),
    );
  return {h, measure};
}

describe('the reply proof needs turning motors', () => {
  it('holds on a sound craft, counted from the first command on', async () => {
    const {measure} = await bench({});
    const measures = await measure();
    expect(judgeReplies(measures).holds).toBe(true);
    // 3 levels of 2.4 s in a 4 kHz loop, ramps and each motor alone included.
    expect(measures.reduce((sum, m) => sum + m.motors[0]!.asked, 0)).toBeGreaterThan(28_500);
  });

  it.each([
    ['a blocked motor', {cogging: 10}, 'Motor 3 was driven alone, and its replies did not report that it turns'],
    ['a motor of half the KV', {kv: 875}, 'Motor 3 turned with'],
    ['a motor of another winding', {kv: 1480}, 'apart'],
  ] as [string, Partial<MotorConstants>, string][])('%s does not pass', async (_, change, text) => {
    const {measure} = await bench(change);
    const verdict = judgeReplies(await measure());
    expect(verdict.holds).toBe(false);
    expect(verdict.text).toContain(text);
  });

  it.each([
    ['crossed replies', [0, 2, 1, 3]],
    ['every reply of motor 1', [0, 0, 0, 0]],
    ['a motor that has its neighbour’s reply', [0, 1, 3, 3]],
  ])('%s do not pass', async (_, from) => {
    const {h, measure} = await bench({});
    h.bench.train.replyFrom = from;
    const verdict = judgeReplies(await measure());
    expect(verdict.holds, verdict.text).toBe(false);
    expect(verdict.text).toMatch(/replies come from the wrong motor|did not report that it turns/);
  });

  it('a dead motor with its neighbour’s reply does not pass, and neither do coasting ones make it fail', async () => {
    const {h, measure} = await bench({cogging: 10});
    h.bench.train.replyFrom = [0, 1, 3, 3];
    expect(judgeReplies(await measure()).holds).toBe(false);
    // Juniper's motor 3 coasts while the next one is driven alone.
    const coasting = await bench({friction: 1e-6});
    const measures = await coasting.measure();
    expect(judgeReplies(measures).holds, judgeReplies(measures).text).toBe(true);
  });

  it('says up to which throttle: what is lost above is not part of it', async () => {
    const {measure} = await bench({});
    expect(judgeReplies(await measure()).text).toMatch(/up to 60 % throttle$/);
  });

  it('an idle of 0 % is refused before anything turns', async () => {
    const {h, measure} = await bench({});
    await expect(measure({idle: 0})).rejects.toMatchObject({problem: {code: 'idle-zero'}});
    expect(h.bench.train.isActive).toBe(false);
  });

  it('replies that are lost while the motors spin up count', async () => {
    const {h, measure} = await bench({});
    const began = h.time.now();
    // Noise on the wire in the first 300 ms only.
    h.bench.train.wireNoise = 0.2;
    h.time.after(300, () => (h.bench.train.wireNoise = 0));
    const verdict = judgeReplies(await measure());
    expect(h.time.now() - began).toBeGreaterThan(7_000);
    expect(verdict.holds).toBe(false);
    expect(verdict.text).toMatch(/lost [\d,]+ of [\d,]+ replies/);
  });

  it('power that goes off ends it with its reason', async () => {
    const {h, measure} = await bench({});
    h.time.after(2_000, () => h.bench.setBattery(false));
    h.time.after(2_100, () => h.bench.setBattery(true));
    await expect(measure()).rejects.toMatchObject({problem: {code: 'hold-ended'}});
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });
});

/** Scripts over the bench link, in virtual time: throttle as written, recorded by the controller, ended as a hold ends. */
import {describe, expect, it} from 'vitest';
import {isEstimate} from '../../motion/time-constants';
import {reportOn} from '../../motion/report';
import type {Estimate} from '../../motion/answer';
import {Harness} from '@simulator/testing/bench-harness';
import {drawnBench} from '@simulator/testing/drawn-bench';
import {motorClasses} from '@simulator/benches/draw-motor';
import {MotionGuard} from '../hold/motion-guard';
import {runScript} from './run-script';
import {fullLoadS, stressScript} from '../replies/stress-replies';
import {
  cappedAt,
  cardScript,
  commandAt,
  durationOf,
  eachAlone,
  highestOf,
  pulseTrain,
  rampScript,
  scriptSchema,
  steady,
  stepsAndCuts,
  stress,
  sweep,
  throttleAt,
} from './script';

const of2207 = motorClasses.find((c) => c.size === '2207')!;
const bench = () => {
  const {setup, motors} = drawnBench(of2207, 21);
  const h = new Harness({setup: () => setup});
  const cancel = {aborted: false};
  const run = (script = cardScript(0.06, 0.3), outputs = [0, 1, 2, 3]) =>
    h.run(runScript(h.client, {script, outputs, allOutputs: 4, poles: 14, clock: h.time, cancel}));
  return {h, motors, cancel, run};
};

describe('a script', () => {
  it.each([
    steady(2, 0.1),
    rampScript(1, 0.05, 0.3),
    stepsAndCuts(0.055, 0.3, 3),
    pulseTrain(0.055, 0.3, 4),
    sweep(0.055, 0.3, 3),
    stress(0.055, 0.3, 2),
    eachAlone(0.055, 0.3, {seconds: 0.5, motors: 4}),
    stressScript(0.055, 0.3, 10, 8),
    cardScript(0.055, 0.3),
  ])('$name keeps to its shape, ends, and is 0 after', (script) => {
    expect(scriptSchema.parse(script)).toEqual(script);
    expect(durationOf(script)).toBeGreaterThan(0.5);
    expect(throttleAt(script, durationOf(script) + 0.001)).toBe(0);
    expect(highestOf(script)).toBeLessThanOrEqual(0.3);
    for (let s = 0; s < durationOf(script); s += 0.01) expect(throttleAt(script, s)).toBeLessThanOrEqual(0.3);
  });
  it('a ramp by hand: a third of the way after a third of the time', () =>
    expect(throttleAt(rampScript(3, 0.1, 0.4), 1)).toBeCloseTo(0.2, 12));
  it('of a stress run: each motor alone in its turn, then all, for as long as asked', () => {
    const script = stressScript(0.055, 0.3, 10, 4);
    expect(durationOf(script)).toBeCloseTo(10, 12);
    expect([0.3, 0.9, 1.4, 1.9, 2.1, 9.9].map((s) => commandAt(script, s).alone)).toEqual([
      0,
      1,
      2,
      3,
      undefined,
      undefined,
    ]);
    // A soak gives each two seconds, and a motor of eight is no longer alone than one of four.
    expect(commandAt(stressScript(0.055, 0.3, 120, 8), 15.9).alone).toBe(7);
    expect(commandAt(stressScript(0.055, 0.3, 120, 8), 16.1).alone).toBeUndefined();
  });
  it('of a stress run: all motors come to the top and stay there for longer than a recording takes', () => {
    for (const motors of [3, 4, 8])
      for (const seconds of [10, 60, 300]) {
        const script = stressScript(0.055, 0.3, seconds, motors);
        const from = fullLoadS(script)!;
        for (const s of [from + 0.001, from + 0.3])
          expect(commandAt(script, s), `${motors} motors, ${seconds} s`).toEqual({throttle: 0.3});
        expect(throttleAt(script, from - 0.05)).toBeLessThan(0.3);
      }
    expect(fullLoadS(eachAlone(0.055, 0.3, {seconds: 0.5, motors: 4}))).toBeUndefined();
  });
  it('is held at the bench cap', () => {
    expect(highestOf(cappedAt(cardScript(0.06, 0.8), 0.25))).toBe(0.25);
    expect(throttleAt(cappedAt(steady(1, 0.8), 0.25), 0.5)).toBe(0.25);
  });
});

describe('each motor alone first', () => {
  const turned = (change: (h: Harness) => void = () => undefined) => {
    const {h} = bench();
    change(h);
    const q = {script: cardScript(0.06, 0.3), outputs: [0, 1, 2, 3], allOutputs: 4, poles: 14, aloneAt: 0.06};
    return h.run(runScript(h.client, {...q, clock: h.time, cancel: {aborted: false}}));
  };
  const clean = [0, 1, 2, 3].map(() => ({turned: true, others: []}));

  it('sees every reply come from its own motor, and records from rest', async () => {
    const {alone, trace, endedBy} = await turned();
    expect([alone, endedBy]).toEqual([clean, undefined]);
    expect(trace.motors.map((m) => m.rpm[0])).toEqual([0, 0, 0, 0]);
  });
  it('a motor of another KV that is given the reply of its neighbour is not taken for one like the others', async () => {
    const {alone, trace} = await turned(({bench: {train}}) => {
      train.changeMotor(1, {kv: 1.35 * train.outputs[1]!.motor.constants.kv});
      train.replyFrom = [0, 0, 2, 3];
    });
    // From the trace the KV of both are alike.
    const [first, second] = reportOn(trace, {poles: 14}).motors.map(({kv}) => (isEstimate(kv) ? kv.value : NaN));
    expect(second! / first!).toBeCloseTo(1, 2);
    expect(alone![0]).toEqual({turned: true, others: [1]});
    expect(alone![1]).toEqual({turned: false, others: []});
  });
  it('too much current cuts it while it is not known yet whose replies are whose', async () => {
    const {h} = bench();
    const q = {script: cardScript(0.06, 0.3), outputs: [0, 1, 2, 3], allOutputs: 4, poles: 14, aloneAt: 0.06};
    const guard = new MotionGuard({outputs: q.outputs, poles: 14, seenKv: 1750, mostAmps: 0.05});
    const run = runScript(h.client, {...q, clock: h.time, cancel: {aborted: false}, guard});
    await expect(h.run(run)).rejects.toMatchObject({problem: {code: 'over-current'}});
    expect(h.bench.train.outputs.map((o) => o.throttle)).toEqual([0, 0, 0, 0]);
  });
  it('let go meanwhile: nothing was recorded, and the motors stop', async () => {
    const {h, cancel} = bench();
    const q = {script: cardScript(0.06, 0.3), outputs: [0, 1, 2, 3], allOutputs: 4, poles: 14, aloneAt: 0.06};
    const run = runScript(h.client, {...q, clock: h.time, cancel});
    h.time.after(500, () => (cancel.aborted = true));
    await expect(h.run(run)).rejects.toMatchObject({problem: {code: 'let-go'}});
    expect(h.bench.train.outputs.map((o) => o.throttle)).toEqual([0, 0, 0, 0]);
  });
});

describe('on the bench', () => {
  it('each alone: one motor turns at a time, the others stand', async () => {
    const {run} = bench();
    const {trace} = await run(eachAlone(0.06, 0.3, {seconds: 0.5, motors: 4}));
    const turning = Array.from(trace.timeS, (_, i) => trace.motors.flatMap((m, n) => (m.throttle[i]! > 0 ? [n] : [])));
    expect(Math.max(...turning.map((t) => t.length))).toBe(1);
    const order = turning.flat().filter((n, i, all) => n !== all[i - 1]);
    expect(order).toEqual([0, 1, 2, 3]);
    for (const motor of trace.motors) expect(Math.max(...motor.throttle)).toBeCloseTo(0.3, 3);
  });

  it('turns the outputs asked for, and the burst holds what was commanded, in its time', async () => {
    const {run} = bench();
    const {trace, source, endedBy, rateHz} = await run(stepsAndCuts(0.06, 0.25, 2), [1, 3]);
    expect([source, endedBy]).toEqual(['burst', undefined]);
    expect(rateHz).toBeGreaterThan(999);
    const highest = trace.motors.map((m) => Math.max(...m.throttle));
    expect(highest.map((t) => Number(t.toFixed(2)))).toEqual([0, 0.25, 0, 0.25]);
    const last = trace.motors[1]!;
    expect(last.throttle.at(-1)).toBe(0);
    expect(Math.max(...trace.motors[0]!.rpm)).toBe(0);
  });
  it('finds the coasting motor among four', async () => {
    const {h, run} = bench();
    const own = h.bench.escs[2]!.drive.bind(h.bench.escs[2]!);
    h.bench.escs[2]!.drive = (rpm) => ({...own(rpm), bridge: {...own(rpm).bridge, brakeShare: 0}});
    const {trace} = await run();
    const {oddOnes} = reportOn(trace, {poles: 14});
    expect(oddOnes.map((o) => [o.motor, o.what])).toContainEqual([2, 'coastDownS']);
  });
  it('a motor of 1 g that started only at the highest step tells its true KV: no bridge loses a quarter of its duty', async () => {
    const of0802 = motorClasses.find((c) => c.size === '0802')!;
    const {setup, motors} = drawnBench(of0802, 7022, {timing: 15});
    const h = new Harness({setup: () => setup});
    const asked = {outputs: [0, 1, 2, 3], allOutputs: 4, poles: 12, clock: h.time, cancel: {aborted: false}};
    const {trace} = await h.run(runScript(h.client, {script: cardScript(0.1, 0.35), ...asked}));
    const late = trace.motors.findIndex(({rpm, throttle}) =>
      throttle.every((t, i) => t === 0 || t > 0.3 || rpm[i]! === 0),
    );
    expect(late).toBe(2);
    for (const [m, {kv}] of reportOn(trace, {poles: 12}).motors.entries())
      expect(Math.abs((kv as Estimate).value / motors[m]!.kv - 1), `motor ${m + 1}`).toBeLessThan(0.12);
  });
  it('let go in the middle ends it within the link’s time, and what was recorded is kept', async () => {
    const {h, cancel, run} = bench();
    h.time.after(1_500, () => (cancel.aborted = true));
    const {endedBy, trace} = await run();
    expect(endedBy?.code).toBe('let-go');
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
    const [{throttle}] = trace.motors as [(typeof trace.motors)[0]];
    const lastOn = throttle.findLastIndex((t) => t > 0);
    expect(trace.timeS[lastOn]!).toBeGreaterThan(1.2);
    expect(trace.timeS[lastOn]!).toBeLessThan(1.7);
  });
  it('the battery off ends it with the reason', async () => {
    const {h, run} = bench();
    h.time.after(1_000, () => h.bench.setBattery(false));
    const {endedBy} = await run();
    expect(endedBy?.code).toMatch(/^(no-power|hold-ended)$/);
  });
  it('without bursts the reports are recorded instead, 50 rows a second, and time constants are not told', async () => {
    const {h, run} = bench();
    h.client.can = (operation) => !operation.startsWith('burst');
    const {trace, source, rateHz} = await run();
    expect(source).toBe('reports');
    expect(rateHz).toBeGreaterThan(25);
    expect(rateHz).toBeLessThan(60);
    const [first] = reportOn(trace, {poles: 14}).motors;
    expect(isEstimate(first!.spoolUpS)).toBe(false);
    expect(isEstimate(first!.resistanceOhm)).toBe(false);
  });
});

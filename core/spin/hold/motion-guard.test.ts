/** What cuts a hold: on reports by hand, and on the stand-in with a motor that cannot start. */
import {describe, expect, it} from 'vitest';
import type {Report} from '../../link/operations';
import {Harness} from '@simulator/testing/bench-harness';
import {drawnBench} from '@simulator/testing/drawn-bench';
import {motorClasses} from '@simulator/benches/draw-motor';
import {MotionGuard} from './motion-guard';
import {runScript} from '../script/run-script';
import {steady} from '../script/script';

const guard = () => new MotionGuard({outputs: [0], poles: 14, seenKv: 1800, mostAmps: 30});
const report = (atMs: number, over: {amps?: number; erpm?: number | null; throttle?: number} = {}): Report => ({
  atMs,
  power: {volts: 24, amps: over.amps ?? 1, cycles: 1},
  load: 0.3,
  motors: [{erpm: over.erpm === undefined ? 28_000 : over.erpm, throttle: over.throttle ?? 0.1, asked: 1, lost: 0}],
});
const firstCut = (reports: readonly Report[]) => {
  const g = guard();
  const at = reports.findIndex((r) => g.hear(r) !== undefined);
  return at < 0 ? undefined : reports[at]!.atMs;
};
const every20 = (count: number, over: (ms: number) => Parameters<typeof report>[1]) =>
  Array.from({length: count}, (_, i) => report(i * 20, over(i * 20)));

describe('by hand', () => {
  it('lets a sound motor turn', () => expect(firstCut(every20(200, () => ({})))).toBeUndefined());
  it('cuts on the third report of too much current, not on one', () => {
    expect(firstCut(every20(50, (ms) => ({amps: ms === 100 ? 40 : 2})))).toBeUndefined();
    expect(firstCut(every20(50, (ms) => ({amps: ms >= 100 ? 40 : 2})))).toBe(140);
  });
  it('cuts a motor that is commanded and stands for 0.9 s; without replies nobody knows', () => {
    expect(firstCut(every20(100, () => ({erpm: 0})))).toBe(900);
    expect(firstCut(every20(100, () => ({erpm: null})))).toBeUndefined();
    expect(firstCut(every20(100, () => ({erpm: 0, throttle: 0.02})))).toBeUndefined();
  });
  it('cuts a speed that no command gives, and not one that still falls from a higher command', () => {
    // 10 % of 24 V at 1800 rpm/V is 4320 rpm, 30,240 eRPM of 14 poles.
    expect(firstCut(every20(100, (ms) => ({erpm: ms < 500 ? 30_240 : 60_000})))).toBe(540);
    expect(
      firstCut(every20(60, (ms) => (ms < 500 ? {throttle: 0.4, erpm: 120_000} : {throttle: 0.1, erpm: 60_000}))),
    ).toBeUndefined();
  });
});

describe('on the stand-in', () => {
  it('a motor whose start-up power is too low is cut, with the trace of it kept', async () => {
    const {setup} = drawnBench(motorClasses[6]!, 5, {startLow: 1000, startHigh: 1010});
    const h = new Harness({setup: () => setup});
    const recording = await h.run(
      runScript(h.client, {
        script: steady(3, 0.2),
        outputs: [0],
        allOutputs: 4,
        poles: 14,
        clock: h.time,
        cancel: {aborted: false},
        guard: new MotionGuard({outputs: [0], poles: 14, seenKv: 2200, mostAmps: 60}),
      }),
    );
    expect(recording.endedBy?.code).toBe('stuck');
    expect(recording.trace.motors[0]!.throttle.some((t) => t > 0.19)).toBe(true);
    expect(h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
  });
});

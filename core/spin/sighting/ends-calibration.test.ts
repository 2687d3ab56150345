/** Calibration of analog ends on Alder's simulated bench: the way it goes, and what happens where a battery or a page does not. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import type {Found} from '../../bench/found';
import {sleep} from '../../link/port';
import type {Problem} from '../../problem';
import {EndsCalibration, type EndsPhase} from './ends-calibration';
import {throttleRange} from './throttle-range';

async function alder() {
  const h = new Harness({craft: demoCraft('alder')});
  h.claims.set('B30-6441', {serial: 'B30-6441', board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, at: 0} as never);
  const before = await h.surveyRound();
  h.bench.plugInto('controller');
  const client = h.connect();
  let isPowered = true;
  const phases: EndsPhase[] = [];
  const setBattery = (on: boolean) => {
    isPowered = on;
    h.bench.setBattery(on);
  };
  let calibration!: EndsCalibration;
  /** Resolves with why it ended, at its end. @param acts what a hand does in a phase, after so long, ms. */
  const calibrate = (acts: Partial<Record<EndsPhase, readonly [number, () => void]>>) =>
    h.run(
      new Promise<Problem | undefined>((onEnd) => {
        const onPhase = (phase: EndsPhase) => {
          phases.push(phase);
          const [afterMs, act] = acts[phase] ?? [];
          if (act) h.time.after(afterMs!, act);
        };
        calibration = new EndsCalibration({client, clock: h.time, isPowered: () => isPowered, onPhase, onEnd});
      }),
    );
  const remarks = async (): Promise<string[]> => {
    h.bench.plugInto('single-wire');
    h.connect();
    const found: Found = await h.surveyRound();
    return throttleRange(found, 6).remarks.map((r) => r.word);
  };
  const end = () => calibration.end();
  return {h, before, phases, setBattery, calibrate, remarks, end};
}
const off = (b: Awaited<ReturnType<typeof alder>>): [number, () => void] => [300, () => b.setBattery(false)];
const on = (b: Awaited<ReturnType<typeof alder>>): [number, () => void] => [700, () => b.setBattery(true)];

describe('a calibration of ends', () => {
  it('leads from battery off to ends that agree as far as clocks do', async () => {
    const b = await alder();
    expect(throttleRange(b.before, 6).remarks.map((r) => r.word)).toContain('ends not reached');
    expect(await b.calibrate({'battery off': off(b), highest: on(b)})).toBeUndefined();
    expect(b.phases).toEqual(['battery off', 'highest', 'taken', 'lowest', 'done']);
    await b.h.run(sleep(b.h.time, 1000));
    expect(await b.remarks()).toEqual(['expected spread']);
  });

  it('begins anew from power-up where the battery went off before the ESCs had taken the highest pulse', async () => {
    const b = await alder();
    let wasOff = false;
    const once = () => {
      if (wasOff) return;
      wasOff = true;
      b.setBattery(false);
    };
    const acts = {'battery off': off(b), highest: on(b), taken: [1000, once]} as const;
    expect(await b.calibrate(acts)).toBeUndefined();
    expect(b.phases).toEqual(['battery off', 'highest', 'taken', 'highest', 'taken', 'lowest', 'done']);
    await b.h.run(sleep(b.h.time, 1000));
    expect(await b.remarks()).toEqual(['expected spread']);
  });

  it('stopped at the highest pulse turns no motor and keeps the ends of before', async () => {
    const b = await alder();
    const stop = () => b.end();
    expect(await b.calibrate({'battery off': off(b), highest: [400, stop]})).toBeUndefined();
    expect(b.phases).toEqual(['battery off', 'highest']);
    await b.h.run(sleep(b.h.time, 2000));
    b.setBattery(true);
    await b.h.run(sleep(b.h.time, 5000));
    expect(b.h.bench.train.outputs.every((o) => o.throttle === 0)).toBe(true);
    expect(await b.remarks()).toContain('ends not reached');
  });

  it('that the controller refuses ends with its reason', async () => {
    const b = await alder();
    // The page takes the battery for off, the controller sees it on.
    const lie = () => {
      b.setBattery(false);
      b.h.bench.setBattery(true);
    };
    expect(await b.calibrate({'battery off': [300, lie]})).toMatchObject({code: 'powered'});
    expect(b.phases).toEqual(['battery off', 'highest']);
  });
});

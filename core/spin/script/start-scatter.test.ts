/** Repeated starts, and the pulses that make them. */
import {describe, expect, it} from 'vitest';
import {PulsePattern, pulseTop} from '../sighting/pulse-pattern';
import {startScatter} from './start-scatter';

describe('the scatter of starts', () => {
  it('bounds the next one by Student’s t (worked by hand: 20, 21, 22 µs: s = 1, t(0.95, 2) = 2.92, √(4/3) = 1.1547)', () => {
    expect(startScatter([1020, 1021, 1022])).toEqual({
      starts: 3,
      meanUs: 1021,
      deviationUs: 1,
      boundUs: expect.closeTo(1021 + 2.92 * 1.1547, 3) as number,
    });
  });
  it('says nothing of the next after one or two, and of none nothing', () => {
    expect(startScatter([1020])).toMatchObject({starts: 1, deviationUs: undefined, boundUs: undefined});
    expect(startScatter([1020, 1024])).toMatchObject({
      deviationUs: expect.closeTo(2.828, 3) as number,
      boundUs: undefined,
    });
    expect(startScatter([])).toBeUndefined();
  });
  it('equal starts are known to a step of the climb and no better', () => {
    expect(startScatter([1020, 1020, 1020])!.boundUs!).toBeGreaterThan(1020.5);
  });
  it('holds nineteen times out of twenty for starts that are normal (seeded)', () => {
    let state = 7;
    const uniform = () => (state = (state * 48271) % 2147483647) / 2147483647;
    const normal = () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
    let inside = 0;
    for (let i = 0; i < 4000; i++) {
      const {boundUs} = startScatter(Array.from({length: 4}, () => 1020 + 3 * normal()))!;
      if (1020 + 3 * normal() <= boundUs!) inside++;
    }
    expect(inside / 4000).toBeGreaterThan(0.94);
    expect(inside / 4000).toBeLessThan(0.96);
  });
});

describe('a pulse', () => {
  const run = (
    pattern: PulsePattern,
    ms: number,
    sight: (throttle: number) => {turns: boolean; stands: boolean} | undefined,
  ) => {
    const throttles: number[] = [];
    for (let now = 0; now <= ms; now += 50) throttles.push(pattern.next(now, sight(pattern.throttle)));
    return throttles;
  };
  it('climbs slowly to the start, quickly on, stays, rests, and comes again from just below', () => {
    const throttles = run(new PulsePattern(pulseTop.digital, 0), 6000, (t) => ({turns: t >= 0.02, stands: t === 0}));
    expect(Math.max(...throttles)).toBe(pulseTop.digital);
    const rests = throttles.flatMap((t, i) => (t === 0 && throttles[i - 1]! > 0 ? [i] : []));
    expect(rests.length).toBeGreaterThanOrEqual(2);
    const next = throttles.findIndex((t, i) => i > rests[0]! && t > 0);
    expect(throttles[next]).toBeCloseTo(0.0145, 2);
  });
  it('waits for a motor that coasts', () => {
    let cutAt: number | undefined;
    const throttles = run(new PulsePattern(pulseTop.digital, 0), 8000, (t) => {
      if (t === 0) cutAt ??= 0;
      return {turns: t >= 0.02, stands: false};
    });
    const rests = throttles.filter((t) => t === 0).length;
    // Six seconds at most.
    expect(rests * 50).toBeGreaterThan(3500);
  });
  it('without speeds comes again by itself, and a person’s word counts while it climbs only', () => {
    const pattern = new PulsePattern(pulseTop.analog, 0);
    for (let now = 0; now <= 500; now += 50) pattern.next(now, undefined);
    expect(pattern.saw()).toBeCloseTo(0.021, 3);
    expect(pattern.saw()).toBeUndefined();
    const throttles = run(pattern, 20_000, () => undefined);
    expect(throttles.filter((t, i) => t === 0 && throttles[i - 1]! > 0).length).toBeGreaterThan(1);
  });
});

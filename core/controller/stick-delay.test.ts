/** Delays of the stick's way, held against moves at random times and against a filter that is stepped. */
import {describe, expect, it} from 'vitest';
import {uniform} from '../testing/known-flight';
import {smoothingIn, stickDelays} from './stick-delay';

const delayOf = (part: string, question: Parameters<typeof stickDelays>[0]) =>
  stickDelays(question).find((d) => d.part === part)!.delayMs!;

describe('from the stick to the loop', () => {
  it.each([50, 150, 500])('a move waits for its frame as moves at random times do, %i Hz', (frameHz) => {
    const random = uniform(frameHz);
    const waits = Array.from({length: 20_000}, () => {
      const at = 10 * random();
      return Math.ceil(at * frameHz) / frameHz - at;
    });
    const meanMs = (1000 * waits.reduce((sum, w) => sum + w, 0)) / waits.length;
    const told = delayOf('receiver frame', {frameHz, smoothing: {kind: 'off'}, loopHz: 8000});
    expect(Math.abs(told / meanMs - 1)).toBeLessThan(0.02);
  });

  it.each([5, 30, 250])(
    'smoothing follows a steady move as a filter of first order does that is stepped, %i Hz',
    (hz) => {
      const stepS = 1e-6;
      const share = 1 - Math.exp(-2 * Math.PI * hz * stepS);
      let [y, t] = [0, 0];
      for (; t < 8 / (2 * Math.PI * hz); t += stepS) y += share * (t - y);
      const told = delayOf('smoothing', {frameHz: 150, smoothing: {kind: 'set', hz}, loopHz: 8000});
      expect(Math.abs(told - 1000 * (t - y))).toBeLessThan(0.01 * told);
    },
  );

  it('is read from settings; what is not known has no delay, but a reason', () => {
    expect(smoothingIn({'sticks.smoothing': 'set', 'sticks.smoothing_hz': 45})).toEqual({kind: 'set', hz: 45});
    expect(smoothingIn({'sticks.smoothing': 'by itself', 'sticks.smoothing_hz': 45})).toEqual({kind: 'by itself'});
    expect(smoothingIn({'sticks.smoothing': 'set'})).toBeUndefined();
    const told = stickDelays({frameHz: undefined, smoothing: {kind: 'by itself'}, loopHz: 4000});
    expect(told.map(({delayMs}) => delayMs)).toEqual([undefined, undefined, 0.125]);
    expect(told.map(({why}) => why)).toEqual([
      'its frames were not counted: look at the receiver on Arming',
      'the firmware chooses its cut-off by itself',
      'half of one turn at 4.0 kHz',
    ]);
    expect(stickDelays({frameHz: 100, smoothing: undefined, loopHz: 4000})[1]!.why).toMatch(/does not describe it/);
  });
});

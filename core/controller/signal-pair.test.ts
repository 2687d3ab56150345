/** Protocol and loop: bit times and pauses of the open trade protocol; load and loop limits are common practice (no source). */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {loadLimits} from '../dshot/loop-budget';
import {digitalProtocols, type Protocol} from '../dshot/protocol';
import {chips} from '../firmware/chips';
import {usualRates} from './loop-rates';
import {hears, judgePair, preferredPairs, protocolRows, type PairVerdict} from './signal-pair';

const plan = {...juniper.plan.controller, notchHarmonics: [1, 2, 3], movingNotches: 1};
const place = {gyroHz: 8000, clockMhz: 216, outputs: 4, chip: chips.M32};
const judge = (protocol: Protocol, replies: boolean, loopHz: number, at: Partial<typeof place> = {}) =>
  judgePair(plan, {protocol, replies, loopHz}, {...place, ...at});
const verdicts = (at: Partial<typeof place> = {}): PairVerdict[] =>
  protocolRows.flatMap((row) => usualRates.map((loopHz) => judgePair(plan, {...row, loopHz}, {...place, ...at})));

describe('a protocol and a loop', () => {
  it('DShot300 with replies: 53.3 + 30 + 56 µs are 14.3 too many for 8 kHz, and leave 110.7 at 4 kHz', () => {
    const fast = judge('dshot300', true, 8000);
    expect(fast).toMatchObject({verdict: 'impossible', fault: 'wire too slow'});
    expect(fast.slackUs).toBeCloseTo(-14.33, 1);
    expect(fast.why).toContain('command 53.3 + pause 30 + reply 56.0 takes 139 µs, 14 more');
    const right = judge('dshot300', true, 4000);
    expect(right).toMatchObject({verdict: 'feasible', fault: undefined});
    expect(right.slackUs).toBeCloseTo(110.67, 1);
  });

  it('DShot150 with replies takes 248.7 of 250 µs at 4 kHz: tight', () => {
    const v = judge('dshot150', true, 4000);
    expect(v.verdict).toBe('tight');
    expect(v.slackUs).toBeCloseTo(250 - (16 * 6.6667 + 30 + 21 * 6.6667 * 0.8), 1);
  });

  it('the 8-bit chip answers DShot300 at most and hears DShot600 (entries of the simulated chips)', () => {
    expect(digitalProtocols.map((p) => hears(chips.K8, p, true))).toEqual([true, true, false]);
    expect(digitalProtocols.map((p) => hears(chips.K8, p, false))).toEqual([true, true, true]);
    expect(judge('dshot600', true, 2000, {chip: chips.K8}).fault).toBe('too fast for the ESC');
  });

  it('pulses at full throttle: 250 µs of Oneshot125 fill 4 kHz, 83.3 of Oneshot42 fit 8 kHz, 25 of Multishot any', () => {
    expect(judge('oneshot125', false, 4000)).toMatchObject({verdict: 'tight'});
    expect(judge('oneshot125', false, 6400)).toMatchObject({fault: 'wire too slow'});
    expect(judge('oneshot42', false, 8000).slackUs).toBeCloseTo(125 - 83.33, 1);
    expect(usualRates.map((hz) => judge('multishot', false, hz).budget.wireFits)).not.toContain(false);
  });

  it('an analog pulse does not wait for loops: the ESC hears one of several', () => {
    expect(judge('analog', false, 4000)).toMatchObject({verdict: 'tight', fault: undefined});
    expect(judge('analog', false, 4000).why).toContain('of 8 loops the ESC hears one');
  });

  it('load: tight from half the loop on, impossible beyond 65 %, with the µs of both', () => {
    const at = (clockMhz: number) => judge('dshot300', true, 2000, {clockMhz});
    for (let mhz = 20; mhz < 200; mhz += 1) {
      const {verdict, budget, why} = at(mhz);
      const due = budget.load > loadLimits.lost ? 'impossible' : budget.load > loadLimits.good ? 'tight' : 'feasible';
      expect(verdict, `${mhz} MHz`).toBe(due);
      if (due !== 'feasible') expect(why).toContain(`${(budget.load * 500).toFixed(0)} of 500 µs`);
    }
  });

  it('nothing runs faster than samples come', () => {
    expect(judge('dshot600', true, 4000, {gyroHz: 2000})).toMatchObject({fault: 'beyond the gyro'});
  });

  it('there is no pulse with replies', () => {
    expect(protocolRows.filter((r) => r.replies).map((r) => r.protocol)).toEqual([...digitalProtocols]);
    expect(protocolRows).toHaveLength(10);
  });
});

describe('pairs to prefer', () => {
  it('are feasible, with replies, fastest loop first, each with its longest bits', () => {
    const preferred = preferredPairs(verdicts());
    expect(preferred.length).toBeGreaterThan(1);
    for (const {pair, verdict, slackUs} of preferred) {
      expect({verdict, replies: pair.replies}).toEqual({verdict: 'feasible', replies: true});
      const others = verdicts().filter(
        (v) =>
          v.pair.loopHz === pair.loopHz && v.pair.replies && v.verdict === 'feasible' && v.pair.protocol !== 'dshot150',
      );
      expect(Math.min(...others.map((v) => v.slackUs))).toBe(slackUs);
    }
    // Bidirectional DShot300 goes with 4 kHz and not with 8 (common practice, no source).
    const at = (hz: number) => preferred.find((v) => v.pair.loopHz === hz)?.pair.protocol;
    expect([at(8000), at(4000)]).toEqual(['dshot600', 'dshot300']);
    const rates = preferred.map((v) => v.pair.loopHz);
    expect(rates).toEqual([...rates].sort((a, b) => b - a));
  });

  it('a controller of 72 MHz gets none of the fast loops; one whose every pair is impossible gets none', () => {
    expect(preferredPairs(verdicts({clockMhz: 72})).every((v) => v.pair.loopHz <= 4000)).toBe(true);
    expect(preferredPairs(verdicts({clockMhz: 1}))).toEqual([]);
  });
});

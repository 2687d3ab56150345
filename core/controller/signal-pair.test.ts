/** Protocol and loop: bit times and pauses of the open trade protocol; load and loop limits are common practice (no source). */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {loadLimits} from '../dshot/loop-budget';
import {digitalProtocols, type Protocol} from '../dshot/protocol';
import {chips} from '../firmware/chips';
import {usualRates} from './loop-rates';
import {allPairs, loopNeed, preferredPairs} from './preferred-pairs';
import {hears, judgePair, protocolRows, type PairVerdict, type SignalPlace} from './signal-pair';

const plan = {...juniper.plan.controller, notchHarmonics: [1, 2, 3], movingNotches: 1};
const place = {gyroHz: 8000, clockMhz: 216, outputs: 4, chip: chips.M32};
const judge = (protocol: Protocol, replies: boolean, loopHz: number, at: Partial<typeof place> = {}) =>
  judgePair(plan, {protocol, replies, loopHz}, {...place, ...at});
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

  it('tight is what does not fit at its longest: bits 3 % slow and a pause of 45 µs, which captures accept too', () => {
    const v = judge('dshot300', true, 6400, {gyroHz: 6400});
    expect(v).toMatchObject({verdict: 'tight', fault: undefined});
    // (53.33 + 56) · 1.03 + 45 = 157.6 of 156.25 µs
    expect(v.why).toContain(
      'typically take 139 of 156 µs; with bits that are 3 % slow and a pause of 45 µs they take 157.6.',
    );
    for (const {pair, verdict, budget} of allPairs(plan, place)) {
      if (verdict === 'feasible') expect(budget.wire.longestUs).toBeLessThan(budget.periodUs);
      if (verdict !== 'impossible' && pair.protocol !== 'analog')
        expect(budget.wire.totalUs).toBeLessThan(budget.periodUs);
    }
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
    expect(judge('oneshot125', false, 4000)).toMatchObject({verdict: 'impossible', fault: 'wire too slow', slackUs: 0});
    expect(judge('oneshot125', false, 4000).why).toContain(
      '250 µs, all of the loop: nothing is left between two of them',
    );
    expect(judge('oneshot125', false, 6400, {gyroHz: 6400})).toMatchObject({fault: 'wire too slow'});
    expect(judge('oneshot42', false, 8000).slackUs).toBeCloseTo(125 - 83.33, 1);
    expect(usualRates.map((hz) => judge('multishot', false, hz).budget.wireFits)).not.toContain(false);
  });

  it('an analog pulse does not wait for loops: the ESC hears one of several', () => {
    expect(judge('analog', false, 4000)).toMatchObject({verdict: 'tight', fault: undefined});
    expect(judge('analog', false, 4000).why).toContain('the ESC receives one of 8 loops');
  });

  it('load: tight from half the loop on, impossible beyond 65 %, with the µs of both', () => {
    const at = (clockMhz: number) => judge('dshot300', true, 2000, {clockMhz});
    for (let mhz = 20; mhz < 200; mhz += 1) {
      const {verdict, budget, why} = at(mhz);
      const due = budget.load > loadLimits.most ? 'impossible' : budget.load > loadLimits.good ? 'tight' : 'feasible';
      expect(verdict, `${mhz} MHz`).toBe(due);
      if (due !== 'feasible') expect(why).toContain(`${(budget.load * 500).toFixed(0)} of 500 µs`);
      if (due === 'impossible') expect(why).toContain('; common practice is 65 % at the very most.');
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
  const prefer = (at: Partial<SignalPlace> = {}) => preferredPairs(plan, {...place, ...at});
  const textOf = ({pair}: PairVerdict) => `${pair.protocol} ${pair.loopHz}`;

  it('are feasible, with replies, the slowest first that carries the filters: DShot300 at 4 kHz before DShot600 at 8 kHz', () => {
    const preferred = prefer();
    expect(preferred.map(textOf)).toEqual(['dshot300 4000', 'dshot600 8000', 'dshot300 2000']);
    for (const {verdict, pair} of preferred)
      expect({verdict, replies: pair.replies}).toEqual({verdict: 'feasible', replies: true});
  });

  it('the loop runs at twice the highest line that is filtered, with the reason (sampling theorem)', () => {
    // 540 turns a second, three harmonics: 1620 Hz.
    expect(loopNeed(plan, {...place, fastestHz: 540})).toEqual({
      hz: 3240,
      why: 'Line 3 of the motors reaches 1620 Hz at full throttle; a loop has to run at twice that or more.',
    });
    expect(prefer({fastestHz: 540}).map(textOf)[0]).toBe('dshot300 4000');
    // A large craft: 250 turns a second need 1.5 kHz.
    expect(prefer({fastestHz: 250}).map(textOf)[0]).toBe('dshot300 2000');
    expect(prefer({fastestHz: 1000}).map(textOf)[0]).toBe('dshot600 8000');
    expect(prefer({fastestHz: 1000, gyroHz: 6400}).map(textOf)[0]).toBe('dshot600 6400');
    expect(preferredPairs({...plan, notchHarmonics: [1]}, {...place, fastestHz: 540}).map(textOf)[0]).toBe(
      'dshot300 2000',
    );
  });

  it('small processors run at 2 kHz (common practice)', () => {
    expect(prefer({clockMhz: 72, fastestHz: 540}).map(textOf)[0]).toBe('dshot300 2000');
    expect(loopNeed(plan, {...place, clockMhz: 72}).why).toContain('72 MHz');
    expect(loopNeed({...plan, clockMhz: 72}, place).hz).toBe(2000);
  });

  it('where no loop carries them, the fastest that there is; none where every pair is impossible', () => {
    expect(prefer({gyroHz: 2000, fastestHz: 540}).map(textOf)).toEqual(['dshot300 2000', 'dshot300 1000']);
    expect(prefer({clockMhz: 1})).toEqual([]);
  });
});

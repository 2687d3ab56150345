import {describe, expect, it} from 'vitest';
import {staleMs, whyHoldEnds, type HoldState} from './hold-guard';

const good: HoldState = {
  reportAgeMs: 20,
  power: {volts: 24, amps: 2, cycles: 3},
  propsOffCycle: 3,
  isVisible: true,
};

describe('a hold goes on', () => {
  it('while power, confirmation, reports and the page are there', () => {
    expect(whyHoldEnds(good)).toBeUndefined();
    expect(whyHoldEnds({...good, reportAgeMs: staleMs})).toBeUndefined();
  });

  it.each([
    ['battery off', {power: {...good.power!, volts: 0.2}}, 'power-lost'],
    ['battery off and on between two reports', {power: {...good.power!, cycles: 4}}, 'props-not-confirmed'],
    ['confirmation taken back', {propsOffCycle: undefined}, 'props-not-confirmed'],
    ['confirmed for another power-up', {propsOffCycle: 2}, 'props-not-confirmed'],
    ['no report any more', {reportAgeMs: staleMs + 1}, 'reports-stale'],
    ['never a report', {reportAgeMs: Infinity}, 'reports-stale'],
    ['link gone', {power: undefined}, 'link-lost'],
    ['page hidden', {isVisible: false}, 'page-hidden'],
  ] as [string, Partial<HoldState>, string][])('and ends: %s', (_, over, code) => {
    const why = whyHoldEnds({...good, ...over});
    expect(why?.code).toBe(code);
    expect(why?.meaning).toContain('The hold has ended and the motors stop.');
  });
});

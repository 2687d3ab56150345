/** Advice from what was measured; that a stutter asks for 25 to 50 µs more is common practice (facts). */
import {describe, expect, it} from 'vitest';
import {adviceOn, unexpectedKinds, type Unexpected} from './unexpected';

const seen = (over: Partial<Unexpected>): Unexpected => ({
  kind: 'nothing moved',
  output: 2,
  settings: {startLow: 1050, startHigh: 1125},
  answered: true,
  protocol: 'dshot300',
  samples: [],
  ...over,
});

describe('what to try', () => {
  it.each(unexpectedKinds)('when %s: a meaning, and steps that are sentences', (kind) => {
    const {meaning, steps} = adviceOn(seen({kind}));
    for (const sentence of [meaning, ...steps]) expect(sentence).toMatch(/^[A-Z].*\.$/);
    expect(steps.length).toBeGreaterThan(0);
  });
  it.each([
    ['analog', 1005, true],
    ['analog', 1010, false],
    ['dshot300', 1005, false],
  ] as const)('on %s, a low end of %i µs may keep an ESC from arming: %s', (protocol, throttleMin, isTold) => {
    const {meaning, steps} = adviceOn(seen({protocol, settings: {throttleMin}}));
    expect(meaning.includes('never arms')).toBe(isTold);
    expect(steps[0]!.includes('Calibrate the end points')).toBe(isTold);
  });
  it('replies that tell a speed contradict an eye that saw nothing', () =>
    expect(adviceOn(seen({samples: [{atS: 1, rpm: 2400, throttle: 0.05}]})).meaning).toContain('up to 2400 rpm'));
  it('an ESC that never answered is looked for at its wires, not at its motor', () => {
    expect(adviceOn(seen({answered: false})).steps[0]).toContain('signal wire of that ESC');
    expect(adviceOn(seen({})).steps.join(' ')).toContain('three motor wires');
  });
  it('a stutter raises both start-up powers by 25 µs, as far as they go', () => {
    expect(adviceOn(seen({kind: 'it stuttered'})).startPower).toEqual({startLow: 1075, startHigh: 1150});
    const most = adviceOn(seen({kind: 'it stuttered', settings: {startLow: 1110, startHigh: 1300}}));
    expect(most.startPower).toEqual({startLow: 1125, startHigh: 1300});
    const full = adviceOn(seen({kind: 'it stuttered', settings: {startLow: 1125, startHigh: 1300}}));
    expect(full.startPower).toBeUndefined();
    expect(adviceOn(seen({kind: 'it stuttered', settings: undefined})).startPower).toBeUndefined();
  });
});

/** Causes from found settings and measured constants; that active braking off makes a motor coast is common practice (facts). */
import {describe, expect, it} from 'vitest';
import {estimateOf, noEstimate, type Answer} from '../../motion/answer';
import type {FindingKind, MotorReport} from '../../motion/report';
import type {Settings} from '../../settings/page';
import {causesOf} from './causes';

const nothing = noEstimate('not measured');
const motor = (over: Partial<Record<'inertia' | 'friction' | 'resistanceOhm', Answer>> = {}): MotorReport => ({
  startsAtPercent: nothing,
  spoolUpS: nothing,
  coastDownS: nothing,
  kv: nothing,
  resistanceOhm: estimateOf(0.06, 0.004),
  inertia: estimateOf(2e-6, 1e-7),
  friction: estimateOf(5e-4, 1e-4),
  drag: nothing,
  delayS: 0,
  stutters: [],
  desyncs: [],
  ...over,
});
const four = [motor(), motor(), motor(), motor()];
const common: Settings = {activeBraking: 1, brakeStrength: 60, timing: 22.5, demag: 1, startLow: 1050, startHigh: 1125};
const settingsWith = (output: number, over: Settings) =>
  [0, 1, 2, 3].map((i) => (i === output ? {...common, ...over} : common));
const causes = (kind: FindingKind, settings: readonly (Settings | undefined)[], motors = four) =>
  causesOf({kind, motor: 2, text: ''}, {motors, settings});

describe('a motor that coasts', () => {
  it('for its active braking being off: named with both readings, and cured by the value of the others', () =>
    expect(causes('odd-coast-down', settingsWith(2, {activeBraking: 0}))).toEqual([
      {
        text: 'Active braking differs on this ESC.',
        evidence: 'It reads off; the others read on.',
        cure: {key: 'activeBraking', value: 1},
      },
    ]));
  it('with several differences lists the likeliest first', () =>
    expect(
      causes('odd-coast-down', settingsWith(2, {activeBraking: 0, brakeStrength: 20})).map((c) => c.cure?.key),
    ).toEqual(['activeBraking', 'brakeStrength']));
  it('for a heavy bell: said with its share, without a cure that a setting could be', () => {
    const heavy = four.map((m, i) => (i === 2 ? motor({inertia: estimateOf(2.8e-6, 1e-7)}) : m));
    expect(causes('odd-coast-down', settingsWith(2, {}), heavy)).toEqual([
      {
        text: expect.stringContaining('bell is heavier'),
        evidence: "Its inertia is 140 % of the others'.",
        cure: undefined,
      },
    ]);
  });
  it('says nothing of a constant that its own bounds leave open', () => {
    const vague = four.map((m, i) => (i === 2 ? motor({inertia: estimateOf(2.6e-6, 8e-7)}) : m));
    expect(causes('odd-coast-down', settingsWith(2, {}), vague)).toEqual([]);
  });
});

describe('other findings', () => {
  it('a desync is blamed on timing behind that of the others, not on timing ahead', () => {
    expect(causes('desync', settingsWith(2, {timing: 7.5})).map((c) => c.cure)).toEqual([{key: 'timing', value: 22.5}]);
    expect(causes('desync', settingsWith(2, {timing: 30}))).toEqual([]);
  });
  it('a slow motor with a bad joint', () => {
    const bad = four.map((m, i) => (i === 2 ? motor({resistanceOhm: estimateOf(0.09, 0.004)}) : m));
    expect(causes('odd-spool-up', settingsWith(2, {}), bad)[0]).toMatchObject({
      text: expect.stringContaining('a bad joint'),
      evidence: "The resistance of its path is 150 % of the others'.",
    });
  });
  it('a bearing that rubs behind a late start', () => {
    const rubs = four.map((m, i) => (i === 2 ? motor({friction: estimateOf(1.1e-3, 1e-4)}) : m));
    expect(causes('odd-start', settingsWith(2, {}), rubs).map((c) => c.text)).toEqual(['A bearing or a magnet rubs.']);
  });
  it('nothing where settings were not read and constants are alike', () =>
    expect(causes('odd-kv', [undefined, undefined, undefined, undefined])).toEqual([]));
});

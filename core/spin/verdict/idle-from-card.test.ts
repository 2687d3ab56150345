/** Idle from measured starts: 15 µs above the highest are common practice (facts). */
import {describe, expect, it} from 'vitest';
import {estimateOf, noEstimate, type Answer} from '../../motion/answer';
import type {MotorReport} from '../../motion/report';
import {idleFromCard} from './idle-from-card';

const nothing = noEstimate('not measured');
const startingAt = (startsAtPercent: Answer): MotorReport => ({
  startsAtPercent,
  spoolUpS: nothing,
  coastDownS: nothing,
  kv: nothing,
  resistanceOhm: nothing,
  inertia: nothing,
  friction: nothing,
  drag: nothing,
  delayS: 0,
  stutters: [],
  desyncs: [],
});

describe('the idle', () => {
  it('stands 15 µs above the upper bound of the motor that starts last', () => {
    // 2.4 % and 0.3 more at most: 1027 µs; with 15 µs 1042 µs, 4.2 %.
    const idle = idleFromCard([estimateOf(2, 0.1), estimateOf(2.4, 0.3), estimateOf(2.5, 0.1)].map(startingAt));
    expect(idle).toEqual({motor: 1, startsAtPercent: 2.4, atMostPercent: expect.closeTo(2.7, 9), percent: 4.2});
  });
  it('is not told while one start is unknown, nor of no motor', () => {
    expect(idleFromCard([estimateOf(2, 0.1), nothing].map(startingAt))).toBeUndefined();
    expect(idleFromCard([])).toBeUndefined();
  });
});

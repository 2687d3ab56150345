import {describe, expect, it} from 'vitest';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import {planSchema} from '../craft/craft';
import {juniper} from '@demo/craft/juniper';
import {wholePlan} from '../craft/whole-plan';
import {adoptAll, adoptFrom, adoptValue} from './adopt';
import {findDifferences, hasDifferences} from './difference';

const h = new Harness();
const found = await h.survey();

describe('what was found, as the plan', () => {
  it('is one value where all agree, one per motor where not, calibration where calibrated', () => {
    expect(adoptValue(found, 'pwm', 4)).toEqual({kind: 'same', value: 24});
    expect(adoptValue(found, 'activeBraking', 4)).toEqual({kind: 'per motor', values: [1, 1, 0, 1]});
    expect(adoptValue(found, 'throttleMin', 4)).toEqual({kind: 'calibrated'});
    expect(adoptValue(found, 'melody', 4)).toBeUndefined();
    expect(adoptValue(found, 'pwm', 6)).toBeUndefined();
  });

  it('is the value of one motor for all', () => {
    expect(adoptFrom(found, 'timing', 2)).toEqual({kind: 'same', value: 15});
    expect(adoptFrom(found, 'melody', 2)).toBeUndefined();
  });

  it('taken over wholly leaves nothing to do but for the odd firmware, and keeps the shape of a plan', () => {
    const adopted = adoptAll(juniper, found);
    const plan = wholePlan(adopted);
    expect(adopted.props).toBe('in');
    expect(planSchema.safeParse(plan).success).toBe(true);
    expect(plan.firmware).toEqual({family: 'Meridian', version: '3.9'});
    const left = findDifferences(plan, found);
    expect(left.firmware.map((f) => f.output)).toEqual([2]);
    expect([left.parameters, left.controller]).toEqual([[], []]);
    expect(plan.parameters['melody']).toEqual(juniper.plan.parameters['melody']);
  });

  it('keeps the build of the image and the reply module', async () => {
    const sorrel = demoCraft('sorrel');
    const its = await new Harness({craft: sorrel}).survey();
    const plan = wholePlan(adoptAll(sorrel, its));
    expect(plan.firmware).toEqual({family: 'Cadence', version: '1.6', pwmKhz: 24});
    expect(hasDifferences(findDifferences(plan, its))).toBe(false);
  });

  it('without ESCs of ours keeps the planned firmware', () => {
    const silent = {...found, escs: [], controller: undefined};
    expect(adoptAll(juniper, silent)).toEqual(juniper);
  });
});

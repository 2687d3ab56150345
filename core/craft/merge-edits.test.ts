import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {canonicalJson} from '../canonical-json';
import {juniper} from '@demo/craft/juniper';
import {mergeEdits} from './merge-edits';

const withTiming = (value: number) => ({
  ...juniper,
  plan: {...juniper.plan, parameters: {...juniper.plan.parameters, timing: {kind: 'same' as const, value}}},
});

describe('two edits from the same beginning', () => {
  it('of different things are both kept', () => {
    const merged = mergeEdits(juniper, withTiming(15), {...juniper, weightG: 700});
    expect(merged).toMatchObject({conflicts: [], tookOver: true, value: {weightG: 700}});
    expect(merged.value.plan.parameters['timing']).toEqual({kind: 'same', value: 15});
  });

  it('of the same value keep this side and name it', () => {
    const merged = mergeEdits(juniper, withTiming(15), withTiming(30));
    expect(merged.conflicts).toEqual(['plan parameters timing value']);
    expect(merged.value.plan.parameters['timing']).toEqual({kind: 'same', value: 15});
    expect(merged.tookOver).toBe(false);
  });

  it('lists are one value: they are never mixed', () => {
    const arms = (list: number[]) => ({
      ...juniper,
      plan: {...juniper.plan, controller: {...juniper.plan.controller, arms: list}},
    });
    const merged = mergeEdits(juniper, arms([1, 0, 2, 3]), arms([0, 1, 3, 2]));
    expect(merged.value.plan.controller.arms).toEqual([1, 0, 2, 3]);
    expect(merged.conflicts).toEqual(['plan controller arms']);
  });

  it('what one side removed and the other left stays removed', () => {
    const parameters = Object.fromEntries(Object.entries(juniper.plan.parameters).filter(([key]) => key !== 'timing'));
    const mine = {...juniper, plan: {...juniper.plan, parameters}};
    expect(mergeEdits(juniper, mine, {...juniper, weightG: 1}).value.plan.parameters).not.toHaveProperty('timing');
  });

  it('any edits: a value that only one side changed is always in the result, whichever side is asked', () => {
    const record = fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd'), fc.integer({min: 0, max: 3}), {maxKeys: 4});
    fc.assert(
      fc.property(record, record, record, (base, mine, theirs) => {
        const [left, right] = [mergeEdits(base, mine, theirs), mergeEdits(base, theirs, mine)];
        expect(left.conflicts.length).toBe(right.conflicts.length);
        for (const key of ['a', 'b', 'c', 'd']) {
          if (mine[key] === base[key]) expect(left.value[key]).toBe(theirs[key]);
          else if (theirs[key] === base[key]) expect(left.value[key]).toBe(mine[key]);
        }
        if (!left.conflicts.length) expect(canonicalJson(left.value)).toBe(canonicalJson(right.value));
      }),
      {seed: 61},
    );
  });
});

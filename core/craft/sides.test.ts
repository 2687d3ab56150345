/** One choice of props for both sides, and the held mixer beside the computed one. */
import {describe, expect, it} from 'vitest';
import {demoFleet} from '@demo/craft/fleet';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {findDifferences} from '../compare/difference';
import {changeProps} from './change-props';
import {mixerDifferences} from './compare-mixer';
import {wantedDirections} from './craft';
import {mixerOf} from './mixer';
import {wholePlan} from './whole-plan';

const mixerFor = (craft: typeof juniper) => mixerOf(craft.arms, wantedDirections(craft));

describe('props in or out', () => {
  it('turns every planned rotation over, and twice is as before', () => {
    const turned = changeProps(juniper, 'in');
    expect(turned.plan.parameters['rotation']).toEqual({kind: 'per motor', values: [1, 0, 0, 1]});
    expect(changeProps(turned, 'out')).toEqual(juniper);
    expect(changeProps(juniper, 'out')).toBe(juniper);
  });

  it('the flight controller follows the craft, and one order sets both sides', async () => {
    const h = new Harness();
    const found = await h.survey();
    expect(findDifferences(wholePlan(juniper), found).controller).toContainEqual({
      field: 'props',
      from: 'in',
      to: 'out',
    });
    const order = await h.order({found, leaveSteps: ['write-firmware']});
    expect(order.plan.controller.props).toBe('out');
    const outcome = await h.carryOut({...order, steps: order.steps.filter((s) => s.kind !== 'prove-replies')});
    expect(outcome.kind === 'stopped' ? outcome.problem : outcome.kind).toBe('finished');
    expect(h.bench.controller.running.props).toBe('out');
  });
});

describe.each(demoFleet.map((c) => [c.name, c] as const))('the mixer that the controller of %s holds', (_, craft) => {
  it('is that of its arms when both sides agree, and has its yaw reversed when they do not', () => {
    const h = new Harness({craft});
    const {arms} = craft.plan.controller;
    const held = (props: 'in' | 'out') => {
      h.bench.controller.set({props, arms});
      h.bench.controller.save();
      h.bench.controller.restart();
      return h.bench.controller.mixer;
    };
    const question = {mixer: mixerFor(craft), arms};
    expect(mixerDifferences(held(craft.props), question)).toEqual([]);
    const other = mixerDifferences(held(craft.props === 'in' ? 'out' : 'in'), question);
    expect(other?.map((d) => d.text)).toEqual(['Its yaw is reversed on every output.']);
  });
});

describe('a held mixer', () => {
  const rows = mixerFor(juniper).rows;
  const question = {mixer: mixerFor(juniper), arms: [0, 1, 2, 3]};
  it('in another scale is the same', () => {
    expect(
      mixerDifferences(
        rows.map((r) => ({...r, roll: r.roll * 0.5, throttle: 2 * r.throttle})),
        question,
      ),
    ).toEqual([]);
  });
  it('with two outputs swapped names both, axis by axis', () => {
    const swapped = [rows[1]!, rows[0]!, rows[2]!, rows[3]!];
    const texts = mixerDifferences(swapped, question)!.map((d) => d.text);
    expect(texts).toContain('Output 1 does −1.00 for pitch; its arm needs +1.00.');
    expect(texts).toHaveLength(4);
  });
  it('of another number of motors is not compared', () => {
    expect(mixerDifferences(rows.slice(1), question)).toBeUndefined();
  });
});

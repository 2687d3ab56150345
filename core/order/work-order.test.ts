import {asRunning} from '../controller/plan';
import {describe, expect, it} from 'vitest';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {meridianImage} from '@simulator/firmware/meridian';
import type {Craft} from '../craft/craft';
import {juniper} from '@demo/craft/juniper';
import {isForPerson} from '../run/steps/step-kinds';
import {type PlannedImage} from '../firmware/plan/planned-image';
import {makeWorkOrder} from '../run/order/make-order';
import {orderEstimateMs, type OrderQuestion} from './work-order';
import type {Found} from '../bench/found';

const found: Found = await new Harness().survey();
const build = (over: Partial<OrderQuestion> = {}) =>
  makeWorkOrder({id: 'x', at: 1, craft: juniper, found, imageFor: shelf.imageFor(over.craft ?? juniper), ...over});
const refused = (over: Partial<OrderQuestion>) => {
  const order = build(over);
  return order.ok ? undefined : [order.problem.code, order.problem.place];
};
const planned = (plan: Partial<Craft['plan']>): Craft => ({...juniper, plan: {...juniper.plan, ...plan}});
const steps = (over: Partial<OrderQuestion> = {}) => {
  const order = build(over);
  if (!order.ok) throw new Error(order.problem.meaning);
  return order.value.steps;
};
/** Plans what is found, but for `change`. */
const asFound = (change: Partial<Craft['plan']['parameters']> = {}): Craft => {
  const parameters: Craft['plan']['parameters'] = {};
  for (const key of Object.keys(juniper.plan.parameters))
    parameters[key] = {kind: 'per motor', values: found.escs.map((e) => e.settings?.values[key as 'pwm'] ?? 0)};
  const craft = planned({
    firmware: {family: 'Meridian', version: '3.9'},
    parameters: {...parameters, ...(change as Craft['plan']['parameters'])},
    controller: asRunning(found.controller!.config),
  });
  return {...craft, props: found.controller!.config.props!};
};

describe('a work order', () => {
  it('takes about a minute and a half for Juniper, writing being most of it', () => {
    const order = build();
    const ms = order.ok ? orderEstimateMs(order.value) : 0;
    expect(ms).toBeGreaterThan(60_000);
    expect(ms).toBeLessThan(100_000);
    const writing = steps().reduce((sum, s) => sum + (s.kind === 'write-firmware' ? s.estimateMs : 0), 0);
    expect(writing / ms).toBeGreaterThan(0.5);
  });

  it('asks a person for the battery and for the reply proof, for nothing else', () => {
    expect(
      steps()
        .filter(isForPerson)
        .map((s) => s.kind),
    ).toEqual(['cycle-battery', 'prove-replies']);
  });

  it('addresses ESCs by chip serial', () => {
    const write = steps().find((s) => s.kind === 'write-firmware');
    expect(write?.kind === 'write-firmware' && write.target).toEqual({output: 0, serial: 'G45-2017'});
  });

  it('writes no firmware and asks for no battery when only a parameter differs', () => {
    const one = {
      ...found,
      escs: found.escs.map((e) => ({...e, identity: {...e.identity!, version: '3.9', layoutRevision: 6}})),
    };
    const kinds = steps({
      found: one,
      imageFor: () => undefined,
      craft: asFound({demag: {kind: 'same', value: 2}}),
    }).map((s) => s.kind);
    expect(kinds).toEqual(['snapshot', 'set-parameters', 'prove-settings']);
  });

  it('proves replies only where the plan has them', () => {
    const quiet = planned({controller: {...juniper.plan.controller, replies: false}});
    expect(steps({craft: quiet}).some((s) => s.kind === 'prove-replies')).toBe(false);
  });

  it('puts the plan on top of what is carried over, per motor', () => {
    const set = steps().find((s) => s.kind === 'set-parameters');
    if (set?.kind !== 'set-parameters') throw new Error('no such step');
    expect(set.targets.map((t) => t.values.rotation)).toEqual([0, 1, 1, 0]);
    expect(set.targets.map((t) => t.values.throttleMax)).toEqual([1983, 1990, 1987, 1985]);
    expect(set.targets.every((t) => t.values.pwm === 48 && t.values.melody === 0 && t.values.activeBraking === 1)).toBe(
      true,
    );
    expect(set.targets.map((t) => t.layout)).toEqual([8, 8, 8, 8]);
  });

  it('names every controller change', () => {
    const set = steps().find((s) => s.kind === 'set-controller');
    expect(set?.kind === 'set-controller' && set.changes.map((c) => c.title)).toContain(
      'Motor protocol DShot600 → DShot300',
    );
  });
});

describe('an order that must not be made', () => {
  it('without the image of the planned firmware', () =>
    expect(refused({imageFor: () => undefined})).toEqual(['no-image', 'shelf']));

  it('with another number of outputs than the craft has arms', () => {
    expect(refused({craft: {...juniper, arms: juniper.arms.slice(0, 3)}})).toEqual(['output-count', 'bench']);
  });

  it('when nobody knows any board', () => {
    const foreign = {...found, escs: found.escs.map((e) => ({...e, identity: undefined, hardware: undefined}))};
    expect(refused({found: foreign})).toEqual(['unknown-board', 'motor 1']);
  });

  it.each([
    ['another board', meridianImage('4.2', {board: 'Basalt 30', deadTimeNs: 30})],
    ['another dead time', meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 60})],
    ['a helicopter', meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45, variant: 'heli-tail'})],
    ['nothing: no identity', {segments: [{start: 0x1000, bytes: new Uint8Array(4096)}]}],
  ])('with an image for %s', (_, image) => {
    const planned: PlannedImage = {name: 'x', sha256: 'x', image, standing: 'steady'};
    expect(refused({imageFor: () => planned})).toEqual(['no-fit', 'motor 1']);
  });

  it('with a withdrawn release', () => {
    const withdrawn = planned({firmware: {family: 'Meridian', version: '4.0'}});
    expect(refused({craft: withdrawn})).toEqual(['no-fit', 'motor 1']);
  });
});

describe('an ESC that cannot be worked on does not hold the others', () => {
  const problem = {code: 'no-power', place: 'esc.enter', meaning: 'silent', remedy: 'power'};
  const quiet: Found = {...found, escs: found.escs.slice(0, 3), silent: [{output: 3, problem}]};

  it('silent: the others are written and set, it stays listed as open, and replies are not proven', () => {
    const order = build({found: quiet});
    if (!order.ok) throw new Error(order.problem.meaning);
    expect(order.value.leftOut).toEqual([{output: 3, problem}]);
    expect(order.value.steps.flatMap((s) => (s.kind === 'write-firmware' ? [s.target.output] : []))).toEqual([0, 1, 2]);
    expect(order.value.steps.map((s) => s.kind)).not.toContain('prove-replies');
  });

  it('of unknown board: left out with the way to mend it', () => {
    const foreign = {
      ...found,
      escs: found.escs.map((e) => (e.output === 1 ? {...e, identity: undefined, hardware: undefined} : e)),
    };
    const order = build({found: foreign});
    expect(order.ok && order.value.leftOut.map((l) => [l.output, l.problem.code])).toEqual([[1, 'unknown-board']]);
  });
});

describe('a motor that a person leaves out', () => {
  it('is not touched and stays listed as open; the craft is not proven as a whole', () => {
    const order = build({leave: [2]});
    if (!order.ok) throw new Error(order.problem.meaning);
    expect(order.value.leftOut.map((l) => [l.output, l.problem.code])).toEqual([[2, 'left-out']]);
    expect(order.value.steps.flatMap((s) => (s.kind === 'write-firmware' ? [s.target.output] : []))).toEqual([0, 1, 3]);
    const set = order.value.steps.find((s) => s.kind === 'set-parameters');
    expect(set?.kind === 'set-parameters' && set.targets.map((t) => t.output)).toEqual([0, 1, 3]);
    expect(order.value.steps.map((s) => s.kind)).not.toContain('prove-replies');
  });

  it('all of them left out is no order', () => expect(refused({leave: [0, 1, 2, 3]})).toEqual(['left-out', 'motor 1']));
});

describe('the safe re-write', () => {
  it('writes every page of the planned image again, although all are equal', () => {
    const order = build({craft: asFound(), rewrite: [0]});
    const write = order.ok ? order.value.steps.find((s) => s.kind === 'write-firmware') : undefined;
    expect(write).toMatchObject({target: {output: 0}, pages: 41, equal: 0, rewrite: true});
  });
});

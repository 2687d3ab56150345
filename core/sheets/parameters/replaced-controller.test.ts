/** A flight controller that took the place of another. */
import {beforeAll, describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {factoryConfig} from '@simulator/hardware/controller/controller-fields';
import {Harness} from '@simulator/testing/bench-harness';
import {planOver} from '../../controller/plan';
import type {Found} from '../../bench/found';
import {snapshotOfFound, type Snapshot} from '../../snapshot/snapshot';
import {questionOf} from '../../testing/question-of';
import {replacedController, withReplacedController} from './replaced-controller';

const about = {craft: 'Juniper', name: 'before the order'};
let [before, after]: Found[] = [];
let old: Snapshot;
beforeAll(async () => {
  const settings = {'video.power': 3, 'gains.roll_p': 51};
  const h = new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})});
  before = await h.survey();
  old = snapshotOfFound(before, {...about, id: 'old', at: '2026-05-01T10:00:00.000Z'});
  h.bench.controller.replaceBoard('C77', factoryConfig('2.2', h.bench.controller.kept));
  after = await h.survey();
});
const asking = (found: Found | undefined, craft = juniper) => questionOf(craft, {record: {found}});

describe('another flight controller', () => {
  it('is told by its serial, with what has to be proven anew', () => {
    const told = replacedController(asking(after), [old])!;
    expect(told.text).toMatch(
      /^The snapshot before the order of .* is of another flight controller\. The plan says nothing of \d+ lines/,
    );
    expect(told.proveText).toMatch(/^To prove again on this one: .*order and rotation/);
  });

  it('gets everything into the plan that the one before held: fields, receiver, mounting, and the rest', () => {
    const craft = withReplacedController(juniper, asking(after), [old]);
    expect(
      Object.fromEntries(Object.entries(craft.plan.settings!).map(([key, {value}]) => [key, value])),
    ).toMatchObject({
      ...{'video.power': 3, 'gains.roll_p': 51},
    });
    const {receiver, switches, failSafe, mounting} = before!.controller!.config;
    // What the plan says is not taken back by what was held before it was carried out.
    for (const [field, value] of Object.entries(juniper.plan.controller))
      expect([field, craft.plan.controller[field as keyof typeof craft.plan.controller]]).toEqual([field, value]);
    expect(craft.props).toBe(juniper.props);
    expect(planOver(craft.plan.controller, after!.controller!.config)).toMatchObject({
      receiver,
      switches,
      failSafe,
      mounting,
    });
    expect(replacedController(asking(after, craft), [old])).toMatchObject({
      ...{planText: '', text: expect.stringContaining('Nothing that it held is missing')},
    });
  });

  it('is none where the newest snapshot is of it, or nobody knows its serial', () => {
    const own = snapshotOfFound(after!, {...about, id: 'own', at: '2026-05-02T10:00:00.000Z'});
    expect(replacedController(asking(after), [own, old])).toBeUndefined();
    expect(replacedController(asking(before), [old])).toBeUndefined();
    expect(replacedController(asking(after), [])).toBeUndefined();
    expect(replacedController(asking(after), [{...old, controllerSerial: undefined}])).toBeUndefined();
    expect(withReplacedController(juniper, asking(before), [old])).toBe(juniper);
  });
});

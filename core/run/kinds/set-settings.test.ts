/** What is planned beside the fields of a flight controller: set, kept, proven, and put back. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {asMixerSetting, mixerEntry} from '../../craft/own-mixer';
import {wantedDirections, type Craft} from '../../craft/craft';
import {mixerOf, type MixerRow} from '../../craft/mixer';
import {heldMixer} from '@simulator/hardware/controller/held-mixer';
import {settingsRow} from '../proof-rows';
import {withSettings, type SettingEdits} from '../../controller/settings/planned-settings';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import {otherEntries} from '../../controller/settings/field-entries';
import {surveyFindings} from '../../compare/survey-findings';
import {wholePlan} from '../../craft/whole-plan';
import type {Outcome} from '../runner';

const planned = (id: string, version: string, edits: SettingEdits): Craft => {
  const craft = demoCraft(id);
  const settings = withSettings(undefined, {version, entries: describeSettings(version)}, edits)!;
  return {...craft, plan: {...craft.plan, settings}};
};
const [first, second] = otherEntries({entries: describeSettings('2.2')}, '2.2').filter(({kind}) => kind.of === 'truth');
const two = {[first!.key]: first!.usual !== true, [second!.key]: second!.usual !== true};
const problemOf = (outcome: Outcome) => (outcome.kind === 'stopped' ? outcome.problem : undefined);

describe('planned settings', () => {
  it('are set in one step, held after a restart, and read back by the proof', async () => {
    const h = new Harness({craft: planned('juniper', '2.2', two)});
    const order = await h.order();
    const step = order.steps.find((s) => s.kind === 'set-settings');
    expect(step).toMatchObject({title: 'Set 2 other settings of the flight controller'});
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
    expect(h.bench.controller.keptSettings).toMatchObject(two);
    expect((await h.order({id: 'next'})).steps.some((s) => s.kind === 'set-settings')).toBe(false);
  });

  it('are what the proof of settings rests on', async () => {
    const h = new Harness({craft: planned('juniper', '2.2', two)});
    const found = await h.survey();
    const grounds = settingsRow.grounds({craft: h.craft, plan: wholePlan(h.craft), found, replaced: {}});
    const keys = grounds.map(({key}) => key);
    for (const key of Object.keys(two))
      expect(keys).toEqual(expect.arrayContaining([`setting ${key}`, `planned setting ${key}`]));
  });

  it('mix by rows of its own from the restart on, read back from what runs', async () => {
    const craft = demoCraft('juniper');
    const {rows} = mixerOf(craft.arms, wantedDirections(craft));
    const outputs = craft.plan.controller.arms.map((arm) => rows[arm]!);
    const fitted = asMixerSetting(mixerEntry(describeSettings('2.2'))!, outputs);
    const value = 'value' in fitted ? fitted.value : [];
    const h = new Harness({craft: planned('juniper', '2.2', {'mixer.rows': value})});
    expect(problemOf(await h.carryOut(await h.order()))).toBeUndefined();
    expect([h.bench.controller.mixer, (await h.survey()).controller?.mixer]).toEqual([value, value]);
    // The firmware's own rows for a quad X, in closed form: the same signs.
    const signs = (all: readonly MixerRow[]) => all.map((row) => Object.values(row).map(Math.sign));
    expect(signs(h.bench.controller.mixer)).toEqual(signs(heldMixer(h.bench.controller.running)));
  });

  it('of 2.0 are set in the places that 2.2 has for them, after its firmware was written', async () => {
    const h = new Harness({craft: planned('bramble', '2.0', {'rates.roll_centre': 90}), oldController: true});
    const order = await h.order();
    const kinds = [
      'snapshot',
      'write-controller',
      'set-controller',
      'carry-settings',
      'set-settings',
      'prove-settings',
    ];
    expect(order.steps.map((s) => s.kind)).toEqual(kinds);
    const outcome = await h.carryOut(order);
    expect(problemOf(outcome)).toBeUndefined();
    expect(h.bench.controller.identity.version).toBe('2.2');
  });

  it('that the newer firmware has no place for are named, and nothing is called proven', async () => {
    const craft = planned('bramble', '2.0', {'telemetry.inverted': true});
    const h = new Harness({craft, oldController: true});
    expect((await h.carryOut(await h.order())).kind).toBe('finished');
    const said = h.journal.all.findLast((e) => e.stepId === 'prove-settings');
    expect(said?.text).toMatch(
      /^telemetry\.inverted is planned, .* nothing in its place\. Nothing is proven: take it out/,
    );
    // A survey says so too, until it is out of the plan.
    const words = surveyFindings(craft, await h.survey()).map(({text}) => text);
    expect(words.join(' ')).toContain('telemetry.inverted is planned, and the flight controller cannot hold that');
    expect(h.journal.all.some((e) => e.proof?.kind === 'settings' && e.proof.holds)).toBe(false);
  });

  it('changed by someone before the order begins stop it', async () => {
    const h = new Harness({craft: planned('juniper', '2.2', two)});
    const order = await h.order();
    await h.run(h.client.request('settings.write', {lines: [{key: first!.key, value: two[first!.key]!}]}));
    await h.run(h.client.request('settings.save', null));
    expect(problemOf(await h.carryOut(order))?.meaning).toContain(first!.key);
  });

  it('in a memory that is worn, the order stops and says which', async () => {
    const h = new Harness({craft: planned('juniper', '2.2', two)});
    const order = await h.order();
    const host = h.host();
    const outcome = await h.carryOutWith(order, {
      ...host,
      onProgress: (p) => {
        if (p.stepId === 'set-settings') h.bench.controller.worn = true;
        host.onProgress(p);
      },
    });
    expect(problemOf(outcome)).toMatchObject({code: 'controller-check', place: 'flight controller'});
  });

  it.each([1, 2, 3, 4, 5, 6])('survive a cable that is out in the middle (%d)', async (seed) => {
    const h = new Harness({craft: planned('juniper', '2.2', two), seed});
    const order = await h.order({leaveSteps: ['write-firmware', 'set-parameters']});
    h.bench.mishaps.afterBytes(3_000 + seed * 4_000, () => h.bench.detach());
    await h.carryOut(order);
    h.connect();
    expect(problemOf(await h.carryOut(order))).toBeUndefined();
    expect(h.bench.controller.keptSettings).toMatchObject(two);
  });
});

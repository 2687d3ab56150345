/** The logbook's lines, and snapshots held against plan, found and each other. */
import {describe, expect, it} from 'vitest';
import {parse} from 'smol-toml';
import {readSnapshot, snapshotOfFound, withRestored, type Snapshot} from '../../snapshot/snapshot';
import type {FoundEsc} from '../../bench/found';
import type {LayoutRevision} from '../../settings/definitions';
import {withEightMotors} from '../../testing/question-of';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {claimLines, journalLines, orderLines, type KeptOrderState} from './logbook';
import {snapshotFile, snapshotsSheet, type SnapshotsNow} from './snapshots';

const harness = new Harness();
const found = await harness.survey();
const order = await harness.order();
const juniper = demoCraft('juniper');

describe('the logbook', () => {
  const kept = (createdAt: number, state: KeptOrderState['state'], rollsBack?: string): KeptOrderState => ({
    ...{id: `o${createdAt}`, state, order: {...order, createdAt, ...(rollsBack && {rollsBack})}},
  });

  it('lists orders newest first, with their state in words; a finished one can be rolled back, a roll-back not', () => {
    const lines = orderLines([kept(1, 'finished'), kept(2, 'stopped'), kept(3, 'finished', 'o1'), kept(4, 'given up')]);
    expect(lines.map((l) => [l.title, l.state.text, l.state.kind, l.canRollBack])).toEqual([
      ['Write Meridian 4.2', 'put away', '', false],
      ['Roll-back', '✓ finished', 'ok', false],
      ['Write Meridian 4.2', 'stopped, can be resumed', 'wait', false],
      ['Write Meridian 4.2', '✓ finished', 'ok', true],
    ]);
    expect(lines[0]!.about).toMatch(/^1 Jan 1970, \d\d:\d\d, \d+ steps$/);
    const settings = {...order, steps: order.steps.filter((s) => s.kind === 'prove-settings')};
    expect(orderLines([{...kept(1, 'running'), order: settings}])[0]).toMatchObject({
      ...{title: 'Set parameters and flight controller', about: expect.stringMatching(/, 1 step$/)},
    });
    expect(orderLines([])).toEqual([]);
  });

  it('tells each line of a journal to the second, and who confirmed which board', () => {
    const at = new Date(2026, 10, 3, 17, 50, 3).getTime();
    expect(journalLines([{orderId: 'o1', stepId: 's', at, event: 'done', text: 'Snapshot.'}])).toEqual([
      {time: '17:50:03', event: 'done', text: 'Snapshot.'},
    ]);
    const claim = {serial: 'B30-1', board: 'Basalt 30', deadTimeNs: 30, by: 'the bench hand', at};
    expect(claimLines({board: 'Slate F', by: 'me', at}, [claim]).map((l) => [l.of, l.board, l.by])).toEqual([
      ['flight controller', 'Slate F', 'me'],
      ['B30-1', 'Basalt 30, 30 ns', 'the bench hand'],
    ]);
    expect(claimLines(undefined, [])).toEqual([]);
  });
});

describe('snapshots', () => {
  const before = snapshotOfFound(found, {id: 'b', craft: 'Juniper', name: 'before', at: '2026-11-01T10:00:00Z'});
  const hot: Snapshot = {
    ...{...before, id: 'c', name: 'hot', at: '2026-11-02T10:00:00Z'},
    escs: before.escs.map((e) => ({...e, values: {...e.values, timing: 30}})),
  };
  const sheet = (over: Partial<SnapshotsNow> = {}) =>
    snapshotsSheet({
      ...{listed: [hot, before], crafts: [], craft: juniper, found, pickedId: 'c', against: 'b', onlyDiffering: true},
      ...over,
    });

  const linesOf = (held: ReturnType<typeof sheet>['held']) => held!.sections.flatMap((s) => s.lines);

  it('stand beside other craft, whose values are planned by line or by section', () => {
    const changed = {timing: 30, startLow: 1090, throttleMin: 1090};
    const withValues = (e: FoundEsc) => ({
      ...e,
      settings: {...e.settings!, values: {...e.settings!.values, ...changed}},
    });
    const alder = {...found, escs: found.escs.map(withValues)};
    const crafts = [{id: 'alder', name: 'Alder', found: alder}];
    const {others, held} = sheet({crafts, pickedId: 'alder', against: 'found'});
    expect(others.map(({snapshot}) => snapshot.name)).toEqual(['Alder, as it was found']);
    expect(held).toMatchObject({name: 'Alder, as it was found', controllerOf: 'alder'});
    expect(sheet({crafts}).held!.others.map((o) => o.value)).toContain('alder');
    expect(held!.sections.map(({name, plans}) => [name, plans])).toEqual([
      ['Running', ['timing']],
      ['Starting', ['startLow']],
      // What calibration made of another craft's ESC is shown, and nothing of it is planned.
      ['Throttle range', []],
    ]);
    const planned = withRestored(juniper.plan.parameters, held!.restore!, held!.sections[1]!.plans);
    expect(planned).toEqual({...juniper.plan.parameters, startLow: {kind: 'same', value: 1090}});
    const bare = {...alder, controller: undefined};
    expect(sheet({crafts: [{...crafts[0]!, found: bare}], pickedId: 'alder'}).held!.controllerOf).toBeUndefined();
  });
  it('held against another show what differs, motor by motor, and what of it can be planned', () => {
    const {held, rows} = sheet();
    expect(rows.map((r) => [r.snapshot.name, r.escs])).toEqual([
      ['hot', '4 ESCs'],
      ['before', '4 ESCs'],
    ]);
    expect(held!.others.map((o) => o.value)).toEqual(['found', 'plan', 'b']);
    expect(held!.sections).toMatchObject([{name: 'Running', plans: ['timing']}]);
    expect(linesOf(held)).toEqual([
      expect.objectContaining({
        ...{name: 'Timing advance', plans: 'timing'},
        cells: expect.arrayContaining([{text: '30° → 22.5°', differs: true}]),
      }),
    ]);
    expect(linesOf(sheet({onlyDiffering: false}).held).length).toBeGreaterThan(10);
    expect(held!.differing).toBe(1);
  });
  it('held against what was found, the plan, or nothing that is known', () => {
    expect(sheet({pickedId: 'b', against: 'found'}).held).toMatchObject({differing: 0, sections: []});
    expect(sheet({pickedId: 'b', against: 'plan'}).held!.differing).toBeGreaterThan(0);
    expect(sheet({against: 'gone'}).held!.sections).toEqual([]);
    expect(sheet({against: 'found', found: undefined}).held!.sections).toEqual([]);
    expect(sheet({pickedId: undefined}).held).toBeUndefined();
    expect(sheet({craft: undefined}).held).toMatchObject({motors: [], restore: undefined});
    expect(sheet({craft: withEightMotors(juniper)}).held!.motors).toHaveLength(8);
  });
  it('are planned again whole or by one value; what carrying over does is told once for a layout', () => {
    const {restore, report} = sheet({pickedId: 'b', against: 'found'}).held!;
    expect(withRestored(juniper.plan.parameters, restore!)['activeBraking']).toEqual({
      ...{kind: 'per motor', values: [1, 1, 0, 1]},
    });
    const one = withRestored(juniper.plan.parameters, sheet().held!.restore!, ['timing']);
    expect([one['timing'], one['pwm']]).toEqual([{kind: 'same', value: 30}, juniper.plan.parameters['pwm']]);
    expect(new Set(report).size).toBe(report.length);
    // A layout that nobody knows plans nothing.
    const odd = {...before, escs: before.escs.map((e) => ({...e, layout: 99 as LayoutRevision}))};
    expect(sheet({listed: [odd], pickedId: 'b', found: undefined}).held!.restore).toBeUndefined();
  });
  it('are saved as JSON that is read back, as TOML and as a table', () => {
    const json = snapshotFile(before, 'json');
    expect([json.name, json.type]).toEqual(['Juniper, before.json', 'application/json']);
    expect(readSnapshot(json.content)).toEqual({ok: true, value: before});
    expect(parse(snapshotFile(before, 'toml').content)).toMatchObject({craft: 'Juniper', name: 'before'});
    expect(snapshotFile(before, 'csv').content.split('\r\n')[0]).toBe(',motor 1,motor 2,motor 3,motor 4');
  });
});

import {readFileSync} from 'node:fs';
import {Ajv2020} from 'ajv/dist/2020.js';
import * as z from 'zod';
import {describe, expect, it} from 'vitest';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';
import {
  compareSides,
  readSnapshot,
  restoreAsPlan,
  sideOfFound,
  sideOfPlan,
  sideOfSnapshot,
  snapshotOfFound,
  snapshotRows,
  snapshotSchema,
} from './snapshot';
import type {Found} from '../bench/found';

const juniper = demoCraft('juniper');
const h = new Harness();
const found = await h.survey();
const about = {id: 's1', craft: 'Juniper', name: 'as found', at: '2026-11-23T17:00:00Z'};
const snapshot = snapshotOfFound(found, about);
await h.carryOut(await h.order());
const after = await h.survey();

describe('a snapshot', () => {
  it('holds every ESC and the flight controller, and reads back from its file', () => {
    expect(snapshot.escs.map((e) => [e.firmware, e.layout])).toEqual([
      ['Meridian 3.9', 6],
      ['Meridian 3.9', 6],
      ['Meridian 3.7', 5],
      ['Meridian 3.9', 6],
    ]);
    expect(snapshot.controller).toMatchObject({protocol: 'dshot600', poles: 14});
    expect(readSnapshot(JSON.stringify(snapshot))).toEqual({ok: true, value: snapshot});
  });

  it.each([
    ['no JSON', '{', 'snapshot file', 'It is not JSON.'],
    ['another format', JSON.stringify({...snapshot, format: 'x'}), 'snapshot file, format', /bidex-snapshot-1/],
    [
      'a value edited by hand',
      JSON.stringify({...snapshot, escs: [{...snapshot.escs[0]!, values: {...snapshot.escs[0]!.values, timing: 0}}]}),
      'motor 1',
      'Timing advance is not what its settings page says.',
    ],
  ])('%s is refused with its place', (_, text, place, meaning) => {
    const read = readSnapshot(text);
    expect(!read.ok && read.problem.place).toBe(place);
    expect(!read.ok && read.problem.meaning).toMatch(meaning);
  });

  it('follows its published JSON Schema, judged by ajv', () => {
    const schema = JSON.parse(
      readFileSync(new URL('../../docs/formats/snapshot.schema.json', import.meta.url), 'utf8'),
    ) as object;
    expect(schema).toEqual(z.toJSONSchema(snapshotSchema));
    const ajv = new Ajv2020({strict: false, validateFormats: false});
    const validate = ajv.compile(schema);
    expect(validate(JSON.parse(JSON.stringify(snapshot)))).toBe(true);
    expect(validate({...snapshot, escs: [{output: 0}]})).toBe(false);
  });

  it('as a table has a line per parameter and a column per motor', () => {
    const rows = snapshotRows(snapshot);
    expect(rows[0]).toEqual(['', 'motor 1', 'motor 2', 'motor 3', 'motor 4']);
    expect(rows).toContainEqual(['Active braking', 'on', 'on', 'off', 'on']);
    expect(rows).toContainEqual(['Motor protocol', 'DShot600']);
  });
});

describe('a comparison', () => {
  const differing = (lines: ReturnType<typeof compareSides>) => lines.filter((l) => l.differs).map((l) => l.name);

  it('with itself finds nothing', () =>
    expect(differing(compareSides(sideOfSnapshot(snapshot), sideOfFound(found), 4))).toEqual([]));

  it('with what came after names what the order changed, motor by motor', () => {
    const lines = compareSides(sideOfSnapshot(snapshot), sideOfFound(after), 4);
    // What layout 8 brought stands at its default: that is no difference.
    expect(differing(lines)).toEqual(['Rotation', 'Timing advance', 'PWM frequency', 'Active braking']);
    const braking = lines.find((l) => l.name === 'Active braking')!;
    expect(braking.motors.map((m) => m.differs)).toEqual([false, false, true, false]);
    expect(braking.motors[2]).toEqual({left: 'off', right: 'on', change: 'off → on', differs: true});
  });

  it('a value that only one side has differs when someone chose it', () => {
    const chosen: Found = {
      ...after,
      escs: after.escs.map((e) => ({...e, settings: {...e.settings!, values: {...e.settings!.values, melody: 2}}})),
    };
    const lines = compareSides(sideOfSnapshot(snapshot), sideOfFound(chosen), 4);
    expect(differing(lines)).toContain('Start-up melody');
    expect(lines.find((l) => l.name === 'Start-up melody')!.motors[0]).toMatchObject({left: '–', right: 'falling'});
  });

  it('with the plan, calibrated values are free and no difference', () => {
    const lines = compareSides(sideOfSnapshot(snapshot), sideOfPlan(juniper), 4);
    expect(lines.find((l) => l.name === 'Throttle minimum')!.motors[0]).toMatchObject({
      left: '1016 µs',
      right: 'free',
      differs: false,
    });
    expect(differing(lines)).not.toContain('Throttle maximum');
  });
});

const newIn8From5 = [
  'pwmLow',
  'pwmHigh',
  'stopBrakeStrength',
  'spinUpLimit',
  'throttleCentre',
  'melody',
  'replyExtras',
];

describe('a restore', () => {
  it('onto layout 8 plans the values of before, one per motor where they differ, and tells what moved', () => {
    const {parameters, carried} = restoreAsPlan(snapshot, 8, juniper);
    expect(parameters.pwm).toEqual({kind: 'same', value: 24});
    expect(parameters.activeBraking).toEqual({kind: 'per motor', values: [1, 1, 0, 1]});
    expect(parameters.throttleMin).toEqual({kind: 'per motor', values: [1016, 1019, 1023, 1017]});
    expect(carried.map((c) => [c.output, c.from])).toEqual([
      [0, 6],
      [1, 6],
      [2, 5],
      [3, 6],
    ]);
    expect(carried[2]!.carried).toMatchObject({
      moved: ['brakeStrength', 'startLow', 'lostToneLoudness', 'lostToneWait'],
      added: newIn8From5,
    });
  });

  it('planned and carried out, a layout-5 snapshot stands on layout 8 with its values', async () => {
    const {parameters} = restoreAsPlan(snapshot, 8, juniper);
    const craft = {...juniper, plan: {...juniper.plan, parameters: {...juniper.plan.parameters, ...parameters}}};
    const order = await h.order({craft, id: 'restore'});
    expect(order.steps.map((s) => s.kind)).not.toContain('write-firmware');
    expect((await h.carryOut(order)).kind).toBe('finished');
    const now = await h.survey();
    expect(now.escs.map((e) => e.settings?.layout)).toEqual([8, 8, 8, 8]);
    const lines = compareSides(sideOfSnapshot(snapshot), sideOfFound(now), 4);
    expect(lines.filter((l) => l.differs).map((l) => l.name)).toEqual([]);
  });

  it('leaves a motor that the snapshot does not know as it is planned', () => {
    const without = {...snapshot, escs: snapshot.escs.filter((e) => e.output !== 1)};
    const {parameters} = restoreAsPlan(without, 8, juniper);
    expect(parameters.timing).toEqual({kind: 'per motor', values: [22.5, 22.5, 15, 22.5]});
    expect(parameters.rotation).toEqual({kind: 'per motor', values: [0, 1, 0, 0]});
    expect(parameters.currentLimit).toEqual({kind: 'same', value: 45});
    expect(parameters.throttleMin).toBeUndefined();
  });

  it('onto the same layout carries nothing over', () => {
    const same = snapshotOfFound(after, about);
    expect(restoreAsPlan(same, 8, juniper).carried).toEqual([]);
  });
});

describe('a snapshot file with an odd flight controller', () => {
  const text = (controller: unknown) =>
    JSON.stringify({
      format: 'bidex-snapshot-1',
      id: 's',
      craft: 'Juniper',
      name: 'n',
      at: '2026-11-26T08:00:00.000Z',
      escs: [],
      controller,
    });

  it.each([
    [{notchHarmonics: 5}, 'controller notchHarmonics'],
    [{arms: 'abc'}, 'controller arms'],
    [{protocol: 'morse'}, 'controller protocol'],
    ['nothing', 'controller'],
  ])('%j is refused with its place', (controller, place) => {
    const read = readSnapshot(text(controller));
    expect(!read.ok && read.problem.place).toBe(`snapshot file, ${place}`);
  });

  it('one that lacks fields goes into the table with what it has', () => {
    const read = readSnapshot(text({poles: 12, somethingNewer: {deep: true}}));
    if (!read.ok) throw new Error(read.problem.meaning);
    expect(snapshotRows(read.value).filter(([name]) => name === 'Motor poles')).toEqual([['Motor poles', '12']]);
    expect(snapshotRows(read.value)).toHaveLength(4);
  });
});

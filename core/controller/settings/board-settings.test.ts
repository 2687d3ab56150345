/** A flight controller that describes itself: read whole, set in pieces, refused whole, kept by a save alone. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {withPlumb} from '@simulator/firmware/plumb';
import {readConfig} from '../../bench/controller-access';
import {ProblemError} from '../../problem';
import {refusalOf} from '../../link/setting-accepts';
import {readSettings, writeSettings} from './board-settings';

const on = (version: string) => (first: BenchSetup) => {
  const {identity, saved} = first.controller;
  return {...first, controller: {...withPlumb(identity.board, version, identity), saved}};
};
const harness = (version = '2.2') => new Harness({setup: on(version)});
const read = (h: Harness) => h.run(readSettings(h.client, 'Plumb'));
const write = (h: Harness, lines: Parameters<typeof writeSettings>[1]) => h.run(writeSettings(h.client, lines));
const restart = async (h: Harness) => void (await h.run(h.client.request('controller.restart', null)));

describe.each(['2.0', '2.2'])('the settings of the stand-in with %s', (version) => {
  it('are some 150 in sections, each key once, and every default and value fits its own kind', async () => {
    const {entries, values} = await read(harness(version));
    expect(entries.length).toBeGreaterThanOrEqual(148);
    expect(new Set(entries.map(({key}) => key)).size).toBe(entries.length);
    const sections = entries.map(({key}) => key.split('.')[0]);
    expect(new Set(sections).size).toBeGreaterThan(15);
    // A section is in one piece.
    expect(sections.filter((s, i) => s !== sections[i - 1]).length).toBe(new Set(sections).size);
    for (const {key, kind, usual, sentence} of entries) {
      expect([key, refusalOf(kind, usual), refusalOf(kind, values[key]!)]).toEqual([key, undefined, undefined]);
      expect(sentence).toMatch(/^[A-Z0-9].*\.$/);
    }
  });
});

describe('settings of a flight controller', () => {
  it('are the fields of its configuration too, and either way sets both', async () => {
    const h = harness();
    const {values} = await read(h);
    const config = await h.run(readConfig(h.client));
    expect(values['motors.poles']).toBe(config.poles);
    expect(values['motors.arms']).toEqual(config.arms.map((arm) => arm + 1));
    expect(values['mounting.yaw']).toBe(config.mounting?.yaw);
    await write(h, [
      {key: 'motors.poles', value: 12},
      {key: 'mounting.yaw', value: 90},
      {key: 'gains.roll_p', value: 51},
    ]);
    expect(await h.run(readConfig(h.client))).toMatchObject({poles: 12, mounting: {yaw: 90}});
    await h.run(h.client.request('controller.set', {poles: 22}));
    expect((await read(h)).values).toMatchObject({'motors.poles': 22, 'gains.roll_p': 51});
  });

  it('are lost with the next start unless they are saved, and go with other firmware', async () => {
    const h = harness();
    await write(h, [{key: 'craft.name', value: 'Juniper'}]);
    await restart(h);
    expect((await read(h)).values['craft.name']).toBe('');
    await write(h, [{key: 'craft.name', value: 'Juniper'}]);
    await h.run(h.client.request('settings.save', null));
    await restart(h);
    expect((await read(h)).values['craft.name']).toBe('Juniper');
    h.bench.controller.startFirmware('2.0');
    expect((await h.run(readSettings(h.client, 'Plumb 2.0'))).values['craft.name']).toBe('');
  });

  it.each([
    ['a key that it does not have', {key: 'gains.roll_z', value: 1}, /no "gains.roll_z"/],
    ['a text for a number', {key: 'gains.roll_p', value: 'much'}, /Expected a whole number from 0 to 250/],
    ['a number out of range', {key: 'gains.roll_p', value: 251}, /251 is not a whole number from 0 to 250/],
    ['a number between two steps', {key: 'rates.roll_centre', value: 201}, /in steps of 5, deg\/s/],
    ['a word that is none', {key: 'behaviour.at_zero_throttle', value: 'fly'}, /one of "motors stop"/],
    ['a text that is too long', {key: 'craft.name', value: 'x'.repeat(25)}, /up to 24 characters/],
    ['a list that is too long', {key: 'lights.colour', value: [1, 2, 3, 4]}, /up to 3, each a whole number/],
    ['a row without a column', {key: 'overlay.elements', value: [{what: 'signal', x: 1, y: 1}]}, /what, x, y, shown/],
    [
      'a cell out of range',
      {key: 'overlay.elements', value: [{what: 'signal', x: 60, y: 1, shown: true}]},
      /Row 1, x: 60 is not/,
    ],
    ['a field that is locked', {key: 'motors.arms', value: [2, 1, 3, 4]}, /while it is powered/],
  ])('with %s are refused whole, and the line is named', async (_, line, why) => {
    const h = harness();
    const before = await read(h);
    const refused = await write(h, [{key: 'gains.pitch_p', value: 3}, line]).catch((e: unknown) => e);
    expect(refused).toBeInstanceOf(ProblemError);
    const {problem} = refused as ProblemError;
    expect(problem.place).toBe(`flight controller, ${line.key}`);
    expect(problem.code).toBe(line.key === 'motors.arms' ? 'locked' : 'setting-refused');
    expect(problem.meaning).toMatch(why);
    expect(await read(h)).toEqual(before);
  });

  it('stay as they are while motors are held', async () => {
    const h = harness();
    h.bench.setBattery(true);
    await h.run(h.client.request('spin', {hold: 1, sentMs: 0, leaseMs: 400, commands: []}));
    const refused = await write(h, [{key: 'gains.pitch_p', value: 3}]).catch(
      (e: unknown) => (e as ProblemError).problem,
    );
    expect(refused).toMatchObject({code: 'locked'});
    // What it holds already may be told again.
    await write(h, [{key: 'gains.pitch_p', value: 47}]);
  });
});

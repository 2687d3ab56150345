/** Fleet, a new craft and the backup: what is said of craft that nobody has surveyed, that are half done, and all proven. */
import {describe, expect, it} from 'vitest';
import {backupParts} from '../../backup/backup';
import {copyOf, nextName} from '../../craft/presets';
import type {OwnPreset} from '../../craft/own-presets';
import {blankRecord} from '../../route/craft-record';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {provenRecord, withEightMotors} from '../../testing/question-of';
import {Harness} from '@simulator/testing/bench-harness';
import {demoFleet} from '@demo/craft/fleet';
import {juniper} from '@demo/craft/juniper';
import {backupText, lackText} from './backup';
import {fleetSheet, type FleetNow} from './fleet';
import {newCraft, newCraftSheet} from './new-craft';

const fleet = (over: Partial<FleetNow> = {}) =>
  fleetSheet({crafts: demoFleet, records: [], atBench: undefined, now: undefined, ...over});

describe('the fleet', () => {
  it('a craft that nobody has surveyed begins with Survey, on its own station', () => {
    const [row] = fleet().rows;
    expect(row).toMatchObject({
      ...{kind: '5-inch quad, props out', firmware: [], surveyed: '–', leadsTo: 'craft', planned: 'Meridian 4.2'},
      standing: {kind: '', text: 'begin with Survey'},
    });
    expect(row!.motors).toMatch(/^4 × \d+/);
    expect(fleet({crafts: [withEightMotors(juniper)]}).rows[0]!.motors).toMatch(/^8 × /);
  });

  it('tells what was found, the odd one out marked, and what is open', async () => {
    const found = await new Harness().survey();
    const [row] = fleet({records: [{...blankRecord('juniper'), found}]}).rows;
    expect(row!.firmware).toEqual([
      {text: 'Meridian 3.9 ×3', isOdd: false},
      {text: 'Meridian 3.7 ×1, odd one out', isOdd: true},
    ]);
    expect(row!.leadsTo).toBe('firmware');
    expect(row!.standing).toMatchObject({kind: 'wait', text: expect.stringMatching(/^\d open$/)});
  });

  it('is all proven, or not any more; one that was put away is apart', () => {
    const records = [provenRecord(juniper)];
    const [row] = fleet({records}).rows;
    expect(row!.standing).toEqual({kind: 'ok', text: '✓ all proven'});
    // Another ESC was found since: what rests on it is open again.
    const found = foundAsPlanned(juniper);
    const other = {...found, escs: found.escs.map((e) => ({...e, boot: {...e.boot, serial: `new ${e.output}`}}))};
    const changed = [{...provenRecord(juniper), found: other, foundPlace: 9}];
    expect(fleet({records: changed}).rows[0]!.standing).toMatchObject({kind: 'wait'});
    const away = fleet({crafts: demoFleet.map((c) => ({...c, archived: c.id === 'bramble'}))});
    expect(away.rows.map((r) => r.craft.id)).not.toContain('bramble');
    expect(away.archived).toEqual([{id: 'bramble', name: 'Bramble', text: 'Bramble, 5-inch quad'}]);
  });

  it('a copy takes the next free name', () => {
    expect(nextName('Juniper', ['Juniper'])).toBe('Juniper 2');
    expect(nextName('Juniper', ['Juniper', 'Juniper 2'])).toBe('Juniper 3');
  });
});

describe('a new craft', () => {
  const own: OwnPreset = {
    ...{id: 'mine', name: 'Meadow', note: '', at: 1},
    craft: copyOf(juniper, {id: 'x', name: 'x'}),
  };
  const sheet = (typed: string, pickedId = 'five-inch') => newCraftSheet([own], demoFleet, {pickedId, typed});
  const identity = {id: 'new', name: 'Sedge'};

  it('starts from a preset with its reasons, from one of one’s own, or from what is found', () => {
    const {plans, picked} = sheet('');
    expect(plans.map((p) => p.id)).toEqual(expect.arrayContaining(['five-inch', 'mine', 'found']));
    expect(picked.reasons.length).toBeGreaterThan(2);
    expect(sheet('', 'mine').picked).toMatchObject({name: 'Meadow, your own', about: 'Kept from a craft of yours.'});
    expect(sheet('', 'gone').picked.id).toBe(plans[0]!.id);
    expect(newCraft('mine', [own], identity)).toMatchObject({...identity, motor: juniper.motor});
    expect(newCraft('five-inch', [own], identity).plan.parameters).not.toEqual({});
    expect(newCraft('found', [own], identity).plan.parameters).toEqual({});
  });
  it('has a name that is free', () => {
    expect(sheet(' ')).toMatchObject({fault: '', canCreate: false, create: 'Create craft'});
    expect(sheet('Juniper ')).toMatchObject({
      ...{fault: 'There is a craft called Juniper already.', canCreate: false},
    });
    expect(sheet('Sedge')).toMatchObject({fault: '', canCreate: true, create: 'Create Sedge'});
  });
});

it('a backup says what it holds and names every part that it can lack', () => {
  expect(backupText({craft: 4, orders: 1, files: 0, logs: 2})).toBe(
    '4 craft, 1 work order, 0 own images, 2 flight logs',
  );
  for (const part of backupParts) expect(lackText([part]), part).toMatch(/^[a-z]/);
  expect(lackText(['craft', 'logs'])).toBe('craft and plans, flight logs');
});

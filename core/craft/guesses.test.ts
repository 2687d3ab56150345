/** Parts of a new craft that its starting plan guessed. */
import {expect, it} from 'vitest';
import {checkedEdit, withBattery, withMotor} from '../motor/craft-edits';
import {craftSheet} from '../sheets/craft/craft';
import {routeStates} from '../route/stations';
import {blankRecord} from '../route/craft-record';
import {juniper} from '@demo/craft/juniper';
import type {Craft} from './craft';
import {guessedParts, withChangedKnown, withConfirmed} from './guesses';
import {copyOf, craftFromPreset, presets} from './presets';

const sedge = craftFromPreset(presets[1]!, {id: 's', name: 'Sedge'});
const edited = (craft: Craft, edit: (craft: Craft) => Craft) => {
  const checked = checkedEdit(craft, edit);
  if (!checked.ok) throw new Error(checked.fault);
  return withChangedKnown(craft, checked.craft);
};
const craftStop = (craft: Craft) => routeStates({craft, record: blankRecord(craft.id), now: undefined}).craft;

it('a craft from a preset says that all its parts are guesses, one that a person entered none', () => {
  expect(sedge.guessed).toEqual(guessedParts);
  expect(craftStop(sedge)).toEqual({state: 'part', note: '5 guesses to check'});
  expect(juniper.guessed).toBeUndefined();
  expect(craftStop(juniper)).toEqual({state: 'done', note: ''});
});

it('what is changed is known, and so is what is confirmed; the rest stays a guess', () => {
  const battery = edited(sedge, withBattery({cells: 4}));
  expect(battery.guessed).toEqual(['airframe', 'motors', 'electronics', 'propellers']);
  // The name is no part, and a value that is typed again changes nothing.
  expect(edited(battery, (c) => ({...c, name: 'Sedge 2'})).guessed).toEqual(battery.guessed);
  expect(edited(battery, withMotor({kv: battery.motor.kv})).guessed).toEqual(battery.guessed);
  const known = battery.guessed!.reduce((craft, part) => edited(craft, withConfirmed(part)), battery);
  expect('guessed' in known).toBe(false);
  expect(craftStop(known).state).toBe('done');
});

it('the sheet of the Craft station marks each guess; a copy of a craft keeps them', () => {
  const {guesses} = craftSheet(edited(sedge, withConfirmed('motors')), {escs: [], findings: [], boards: []});
  expect(Object.keys(guesses)).toEqual(['airframe', 'battery', 'electronics', 'propellers']);
  expect(guesses.battery).toContain('starting plan');
  expect(copyOf(sedge, {id: 't', name: 'Sedge 3'}).guessed).toEqual(guessedParts);
});

import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import type {Craft} from './craft';
import {juniper} from '@demo/craft/juniper';
import {sorrel} from '@demo/craft/sorrel';
import {applyPreset, craftChanges, plannedText, presetParts, type OwnPreset} from './own-presets';

const presetOf = (craft: Craft): OwnPreset => ({id: 'p', name: 'Ours', note: 'flies well', at: 1, craft});
const all = [...presetParts];

describe('a preset of one’s own', () => {
  it('applied to its own craft changes nothing', () => {
    expect(applyPreset(juniper, presetOf(juniper), all)).toEqual(juniper);
    expect(craftChanges(juniper, juniper)).toEqual([]);
  });

  it('brings nothing without a part', () => expect(applyPreset(juniper, presetOf(sorrel), [])).toEqual(juniper));

  it('never brings arms, outputs, boards, rotation nor calibrated end points', () => {
    const other = applyPreset(juniper, presetOf(alder), all);
    expect(other.arms).toBe(juniper.arms);
    expect(other.escBoard).toBe(juniper.escBoard);
    expect(other.plan.controller.arms).toEqual(juniper.plan.controller.arms);
    for (const key of ['rotation', 'throttleMin', 'throttleMax'])
      expect(other.plan.parameters[key]).toEqual(juniper.plan.parameters[key]);
  });

  it('brings the part that was chosen, and the preview says exactly that', () => {
    const preset = presetOf({...juniper, battery: {cells: 4, capacityMah: 1500}});
    const changed = applyPreset(juniper, preset, ['battery']);
    expect(craftChanges(juniper, changed)).toEqual([{name: 'Battery', from: '6S 1300 mAh', to: '4S 1500 mAh'}]);
    const parameters = applyPreset(juniper, presetOf(sorrel), ['parameters']);
    expect(craftChanges(juniper, parameters)).toContainEqual({
      name: 'Lowest start-up power',
      from: '1060 µs',
      to: '1075 µs',
    });
    expect(parameters.plan.firmware).toEqual(juniper.plan.firmware);
  });

  it('names fields of the flight controller as every view does', () => {
    const changed = applyPreset(juniper, presetOf(sorrel), ['flight controller']);
    expect(craftChanges(juniper, changed)).toContainEqual({name: 'Control loop', from: '4 kHz', to: '2 kHz'});
  });

  it('leaves the mounting with its craft, and says where the plan was silent', () => {
    const planned = {...juniper.plan.controller, movingQ: 6, mounting: {roll: 0, pitch: 0, yaw: 90}};
    const preset = presetOf({...juniper, plan: {...juniper.plan, controller: planned}});
    const changed = applyPreset(juniper, preset, ['flight controller']);
    expect(changed.plan.controller.mounting).toBeUndefined();
    expect(craftChanges(juniper, changed)).toEqual([{name: 'Moving notch width, Q', from: 'as on the craft', to: '6'}]);
  });

  it('fits values per motor to the arms of the craft', () => {
    const per = {kind: 'per motor' as const, values: [15, 22.5, 15, 30]};
    const preset = presetOf({...juniper, plan: {...juniper.plan, parameters: {timing: per}}});
    const {timing} = applyPreset(alder, preset, ['parameters']).plan.parameters;
    expect(timing).toEqual({kind: 'per motor', values: [15, 22.5, 15, 30, 30, 30]});
    expect(plannedText('timing', timing)).toBe('15° / 22.5° / 15° / 30° / 30° / 30°');
  });
});

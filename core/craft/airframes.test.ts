import {describe, expect, it} from 'vitest';
import {parameterDefinitions, refusalOf} from '../settings/definitions';
import {airframe, airframeNames, airframeOf, diagonalOf} from './airframes';
import {changeArms, leadOutput} from './change-arms';
import {craftSchema, wantedDirections} from './craft';
import {demoFleet} from '@demo/craft/fleet';
import {copyOf, craftFromPreset, presets} from './presets';

describe('airframes', () => {
  it.each([
    ['quad X', 4],
    ['quad H', 4],
    ['quad plus', 4],
    ['hex X', 6],
    ['octo X', 8],
  ] as const)('%s has %i arms across the given diagonal, and is known again at any size', (name, count) => {
    for (const mm of [76, 226, 640]) {
      const arms = airframe(name, mm);
      expect(arms).toHaveLength(count);
      expect(Math.abs(diagonalOf(arms) - mm)).toBeLessThan(1.5);
      expect(airframeOf(arms)).toBe(name);
      expect(new Set(arms.map((a) => a.name)).size).toBe(count);
    }
  });

  it('have their centre of motors in the middle', () => {
    for (const name of airframeNames) {
      const arms = airframe(name, 300);
      expect(Math.abs(arms.reduce((sum, a) => sum + a.xMm, 0))).toBeLessThanOrEqual(1);
      expect(Math.abs(arms.reduce((sum, a) => sum + a.yMm, 0))).toBeLessThanOrEqual(1);
    }
  });

  it('turn neighbours against each other', () => {
    for (const name of airframeNames) {
      if (airframe(name, 300).length === 1) continue;
      const directions = wantedDirections({arms: airframe(name, 300), props: 'out'});
      const clockwise = directions.filter((s) => s === 'clockwise').length;
      expect(clockwise, name).toBe(directions.length / 2);
    }
  });

  it('positions of one’s own are none of them', () => {
    const arms = airframe('quad X', 226).map((a, i) => (i === 2 ? {...a, yMm: a.yMm + 12} : a));
    expect(airframeOf(arms)).toBeUndefined();
  });

  it('the demo’s craft are X and hex', () => {
    expect(demoFleet.map((c) => airframeOf(c.arms))).toEqual(['quad X', 'quad X', 'hex X', 'quad X']);
  });
});

describe('presets', () => {
  it.each(presets.map((p) => [p.name, p] as const))('%s gives a whole craft with allowed values', (_, preset) => {
    const craft = craftFromPreset(preset, {id: 'x', name: 'Sedge'});
    expect(craftSchema.safeParse(craft).success).toBe(true);
    expect(craft.plan.controller.arms).toEqual(craft.arms.map((_, i) => i));
    for (const definition of parameterDefinitions) {
      const planned = craft.plan.parameters[definition.key];
      const values = planned?.kind === 'same' ? [planned.value] : planned?.kind === 'per motor' ? planned.values : [];
      expect(values.map((v) => refusalOf(definition, v)).filter(Boolean), definition.key).toEqual([]);
      if (planned?.kind === 'per motor') expect(values).toHaveLength(craft.arms.length);
    }
    expect(craft.plan.parameters).not.toHaveProperty('rotation');
    expect(Object.keys(preset.reasons).every((key) => key in craft.plan.parameters)).toBe(true);
  });

  it('follow common practice: 12 poles and 2 kHz for a micro, 14 poles for 5-inch', () => {
    const of = (id: string) => presets.find((p) => p.id === id)!.craft;
    expect([of('micro').motor.poles, of('micro').plan.controller.loopHz]).toEqual([12, 2000]);
    expect(of('five-inch').motor.poles).toBe(14);
    for (const {craft} of presets) expect(craft.plan.controller.poles).toBe(craft.motor.poles);
  });

  it('a copy is its own craft and back from the archive', () => {
    const copy = copyOf({...demoFleet[0]!, archived: true}, {id: 'c', name: 'Juniper 2'});
    expect([copy.id, copy.name, copy.archived, copy.plan]).toEqual(['c', 'Juniper 2', false, demoFleet[0]!.plan]);
  });
});

describe('other arms', () => {
  const juniper = demoFleet[0]!;
  it('keep what is planned per motor, and every output leads to one arm', () => {
    const hex = changeArms(juniper, airframe('hex X', 300));
    // Nobody has seen the motors on the new arms turn.
    expect(hex.plan.parameters['rotation']).toBeUndefined();
    expect(changeArms(juniper, airframe('quad X', 300)).plan.parameters['rotation']).toEqual(
      juniper.plan.parameters['rotation'],
    );
    expect(hex.plan.controller.arms).toEqual([0, 1, 2, 3, 4, 5]);
    expect(craftSchema.safeParse(hex).success).toBe(true);
    const quad = changeArms(
      {...hex, plan: {...hex.plan, controller: {...hex.plan.controller, arms: [5, 4, 3, 2, 1, 0]}}},
      juniper.arms,
    );
    expect([...quad.plan.controller.arms].sort()).toEqual([0, 1, 2, 3]);
  });
  it('an output led to another arm swaps with the one that had it', () => {
    expect(leadOutput([0, 1, 2, 3], 0, 2)).toEqual([2, 1, 0, 3]);
    expect(leadOutput([0, 1, 2, 3], 1, 1)).toEqual([0, 1, 2, 3]);
  });
});

/** The definitions of a flight controller's fields: their ranges are those of the link, their usual values what a new board has. */
import {describe, expect, it} from 'vitest';
import {wireConfigSchema, type WireConfig} from '../link/operations';
import {factoryConfig} from '@simulator/hardware/controller/controller-fields';
import {definedFields, definitions, fieldsSince, textVersions, usualOf} from './definitions';
import {controllerFields, formatControllerField} from './fields';
import {controllerPlanSchema, optionalFields} from './plan';
import {ranges, type Range} from './ranges';

/** The link's schema is written apart, so that neither can change alone. */
const wire = wireConfigSchema.shape as Readonly<Record<string, {safeParse(value: unknown): {success: boolean}}>>;
const planned = controllerPlanSchema.shape as typeof wire;
const fresh = factoryConfig('2.2', {arms: [0, 1, 2, 3], gyroHz: 8000});

/** Whether both take a value in the place that a range is of. */
function taken(name: string, value: number): readonly boolean[] {
  const [field, part] = name.split('.') as [string, string | undefined];
  const lists: Readonly<Record<string, string>> = {harmonic: 'notchHarmonics', notchWeight: 'notchWeights'};
  if (name in lists) return [wire, planned].map((shape) => shape[lists[name]!]!.safeParse([value]).success);
  if (name === 'channel')
    return [wire, planned].map((shape) => shape['receiver']!.safeParse({...fresh.receiver, roll: value}).success);
  if (name === 'pulse') {
    const switches = [{use: 'arm', channel: 5, fromUs: value, toUs: 2000}];
    return [wire, planned].map((shape) => shape['switches']!.safeParse(switches).success);
  }
  const whole = part ? {...(fresh[field as keyof WireConfig] as object), [part]: value} : value;
  return [wire, planned].map((shape) => shape[field]!.safeParse(whole).success);
}

describe('a flight controller’s fields', () => {
  it.each(Object.entries<Range>(ranges))('%s has the range of the link', (name, {min, max}) => {
    expect([taken(name, min), taken(name, max)]).toEqual([
      [true, true],
      [true, true],
    ]);
    for (const beyond of [min - 1, max + 1]) expect(taken(name, beyond), String(beyond)).toEqual([false, false]);
  });

  it('are all of the plan, and what a firmware may lack is absent where it has no place', () => {
    expect([...definedFields].sort()).toEqual(Object.keys(controllerPlanSchema.shape).sort());
    for (const field of fieldsSince('2.2').filter((f) => f !== 'replies')) expect(optionalFields).toContain(field);
    expect(fieldsSince('2.0')).toEqual(definedFields.filter((f) => !fieldsSince('2.2').includes(f)));
  });

  it('are taken by the plan, by every place of the text and by a name when they are as usual', () => {
    for (const field of definedFields) {
      const read = planned[field]!.safeParse(usualOf(field));
      expect(read.success, field).toBe(true);
      for (const {places, usual} of definitions[field].lines)
        for (const version of textVersions) {
          const place = places[version];
          if (place) expect(place.kind.takes(place.toLine ? place.toLine(usual) : usual), field).toBe(true);
        }
    }
    for (const {field, name} of controllerFields) {
      expect(name).toMatch(/^[A-Z]/);
      const value = controllerPlanSchema.shape[field].parse(usualOf(field));
      expect(formatControllerField(field, value as never), field).not.toMatch(/undefined|object|NaN/);
    }
  });
});

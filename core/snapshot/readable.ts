/** A snapshot for people who read. */
import {definitionOf, type ParameterKey} from '../settings/definitions';
import type {Snapshot} from './snapshot';

/** Values under their names and units, no page bytes: a plain object to be written as TOML. */
export function readableSnapshot({craft, name, at, escs, controller}: Snapshot): Record<string, unknown> {
  const titled = (key: string) => {
    const {name: title, unit} = definitionOf(key as ParameterKey);
    return unit ? `${title} [${unit}]` : title;
  };
  return {
    craft,
    name,
    at,
    motor: escs.map((e) => ({
      number: e.output + 1,
      serial: e.serial,
      firmware: e.firmware,
      settings: Object.fromEntries(Object.entries(e.values).map(([key, value]) => [titled(key), value])),
    })),
    ...(controller && {'flight-controller': controller}),
  };
}

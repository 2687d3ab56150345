/**
 * Every ESC parameter, defined once. Editors, dot strips, codec, carry-over, rules and verdicts come from here; the
 * parameters themselves stand in parameters/, one file per group.
 * Stored values are bytes (u8) or little-endian words (u16); what is stored is `value / scale - bias`.
 */
import type {Variant} from './variant';
import type {LayoutRevision, ParameterDefinition, ParameterGroup, ParameterKey, Storage} from './parameter';
import {braking} from './parameters/braking';
import {helicopter} from './parameters/helicopter';
import {protection} from './parameters/protection';
import {replies} from './parameters/replies';
import {running} from './parameters/running';
import {sounds} from './parameters/sounds';
import {starting} from './parameters/starting';
import {throttle} from './parameters/throttle';

export {isLayoutRevision, layoutRevisions} from './parameter';
export type {Choice, LayoutRevision, ParameterDefinition, ParameterGroup, ParameterKey, Storage} from './parameter';

export const parameterGroups: readonly ParameterGroup[] = [
  {name: 'Running', parameters: running},
  {name: 'Braking', parameters: braking},
  {name: 'Starting', parameters: starting},
  {name: 'Throttle range', parameters: throttle},
  {name: 'Protection', parameters: protection},
  {name: 'Sounds', parameters: sounds},
  {name: 'Replies', parameters: replies},
  {name: 'Helicopter', parameters: helicopter},
];
export const parameterDefinitions: readonly ParameterDefinition[] = parameterGroups.flatMap((g) => g.parameters);

/** Storage of a parameter in firmware of one layout and variant; undefined where that firmware does not have it. */
export const storageOf = (
  {storage, variants}: ParameterDefinition,
  layout: LayoutRevision,
  variant: Variant = 'multirotor',
): Storage | undefined => (!variants || variants.includes(variant) ? storage[layout] : undefined);

const byKey = new Map(parameterDefinitions.map((d) => [d.key, d]));

export function definitionOf(key: ParameterKey): ParameterDefinition {
  const definition = byKey.get(key);
  if (!definition) throw new RangeError(`No parameter "${key}"`);
  return definition;
}

/** Why `value` may not be planned, for firmware of `layout` where one is given, in a sentence; undefined when it may. */
export function refusalOf(definition: ParameterDefinition, value: number, layout?: LayoutRevision): string | undefined {
  const lacking = layout !== undefined && definition.storage[layout]?.lacks?.includes(value);
  if (lacking) return `${definition.name} ${formatValue(definition, value)} is not in firmware with layout ${layout}.`;
  const {name, min, max, step, unit, choices} = definition;
  if (choices)
    return choices.some((c) => c.value === value)
      ? undefined
      : `${name} is one of ${choices.map((c) => c.label).join(', ')}.`;
  if (!Number.isFinite(value)) return `${name} is a number from ${min} to ${max} ${unit}.`;
  if (value < min || value > max) return `${name} goes from ${min} to ${max} ${unit}; ${value} is outside.`;
  const steps = (value - min) / step;
  return Math.abs(steps - Math.round(steps)) < 1e-9
    ? undefined
    : `${name} goes in steps of ${step} ${unit}; ${value} lies between two.`;
}

/** A value with its unit, as shown everywhere. */
export function formatValue(definition: ParameterDefinition, value: number): string {
  const label = definition.choices?.find((c) => c.value === value)?.label ?? String(value);
  if (!definition.unit || (definition.choices && Number.isNaN(Number(label)))) return label;
  return definition.unit === '°' ? `${label}°` : `${label} ${definition.unit}`;
}

/** "48 → 24 kHz": a unit that is a word of its own is written once. */
export function changeText({unit}: ParameterDefinition, from: string, to: string): string {
  const ending = ` ${unit}`;
  const bare = unit && from.endsWith(ending) && to.endsWith(ending) ? from.slice(0, -ending.length) : from;
  return `${bare} → ${to}`;
}

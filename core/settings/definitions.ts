/**
 * Every ESC parameter, defined once. Editors, dot strips, codec, carry-over, rules and verdicts come from here; the
 * parameters themselves stand in parameters/, one file per group.
 * Stored values are bytes (u8) or little-endian words (u16); what is stored is `value / scale - bias`.
 */
import type {Variant} from '../firmware/identity';
import {braking} from './parameters/braking';
import {helicopter} from './parameters/helicopter';
import {protection} from './parameters/protection';
import {replies} from './parameters/replies';
import {running} from './parameters/running';
import {sounds} from './parameters/sounds';
import {starting} from './parameters/starting';
import {throttle} from './parameters/throttle';

/** 2 and 3 are of Cadence (8-bit), 5 to 8 of Meridian (32-bit). */
export type LayoutRevision = 2 | 3 | 5 | 6 | 8;
export const layoutRevisions: readonly LayoutRevision[] = [2, 3, 5, 6, 8];
export const isLayoutRevision = (n: number): n is LayoutRevision => layoutRevisions.some((revision) => revision === n);

export interface Choice {
  readonly value: number;
  readonly label: string;
}

/** Where and how one layout revision stores a parameter. */
export interface Storage {
  readonly offset: number;
  readonly width: 1 | 2;
  /** Value = (stored + bias) × scale. */
  readonly scale?: number;
  readonly bias?: number;
  /** Values this revision cannot hold, although newer ones can. */
  readonly lacks?: readonly number[];
}

export interface ParameterDefinition {
  readonly key: ParameterKey;
  readonly name: string;
  /** A few words under the name. */
  readonly aside: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly default: number;
  /** Fixed values to choose from; without them any value on the steps between min and max. */
  readonly choices?: readonly Choice[];
  /** Marks on the scale of the dot strip. */
  readonly ticks: readonly number[];
  /** Scale of the dot strip, where it is narrower than min…max. */
  readonly scale?: {readonly from: number; readonly to: number};
  /** Usual spread between calibrated ESCs; a difference inside it is expected. */
  readonly calibratedSpread?: number;
  /** Whether values differ from motor to motor by their nature: rotation, calibrated end points. */
  readonly perMotor?: boolean;
  /** What it does, in a sentence. */
  readonly help: string;
  /** What goes wrong at the low end, or when off, and at the high end, or when on. */
  readonly tooLow: string;
  readonly tooHigh: string;
  /** What the pilot sees when one ESC alone differs. */
  readonly odd: string;
  /** Firmware variants that have it; all when left out. */
  readonly variants?: readonly Variant[];
  readonly storage: Readonly<Partial<Record<LayoutRevision, Storage>>>;
}

export interface ParameterGroup {
  readonly name: string;
  readonly parameters: readonly ParameterDefinition[];
}

export type ParameterKey =
  | 'rotation'
  | 'timing'
  | 'pwm'
  | 'pwmLow'
  | 'pwmHigh'
  | 'demag'
  | 'activeBraking'
  | 'brakeStrength'
  | 'stopBrake'
  | 'stopBrakeStrength'
  | 'startLow'
  | 'startHigh'
  | 'lowSpeedLimit'
  | 'spinUpLimit'
  | 'throttleMin'
  | 'throttleCentre'
  | 'throttleMax'
  | 'currentLimit'
  | 'temperatureLimit'
  | 'lowVoltageLimit'
  | 'toneLoudness'
  | 'lostToneLoudness'
  | 'lostToneWait'
  | 'melody'
  | 'replyExtras'
  | 'governorP'
  | 'governorI';

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

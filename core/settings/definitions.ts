/**
 * Every ESC parameter, defined once. Editors, dot strips, codec, carry-over and verdicts come from here.
 * Stored values are bytes (u8) or little-endian words (u16); what is stored is `value / scale - bias`.
 */

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
  /** Whether a plan may hold one value per motor. */
  readonly perMotor?: boolean;
  readonly help: string;
  readonly storage: Readonly<Partial<Record<LayoutRevision, Storage>>>;
}

export type ParameterKey =
  | 'rotation'
  | 'timing'
  | 'pwm'
  | 'activeBraking'
  | 'brakeStrength'
  | 'demag'
  | 'startLow'
  | 'startHigh'
  | 'lowSpeedLimit'
  | 'throttleMin'
  | 'throttleMax'
  | 'toneLoudness'
  | 'temperatureLimit'
  | 'melody';

const u8 = (offset: number, more: Omit<Storage, 'offset' | 'width'> = {}): Storage => ({
  offset,
  width: 1,
  ...more,
});
const u16 = (offset: number, more: Omit<Storage, 'offset' | 'width'> = {}): Storage => ({
  offset,
  width: 2,
  ...more,
});
const same = (storage: Storage) => ({5: storage, 6: storage, 8: storage});
const everywhere = (storage: Storage) => ({2: storage, 3: storage, ...same(storage)});
const offOn: readonly Choice[] = [
  {value: 0, label: 'off'},
  {value: 1, label: 'on'},
];

/** PWM frequency value that stands for "follows motor speed". */
export const pwmFollows = 0;

export const parameterDefinitions: readonly ParameterDefinition[] = [
  {
    key: 'rotation',
    name: 'Rotation',
    aside: 'per motor',
    unit: '',
    min: 0,
    max: 1,
    step: 1,
    default: 0,
    choices: [
      {value: 0, label: 'normal'},
      {value: 1, label: 'reversed'},
    ],
    ticks: [0, 1],
    perMotor: true,
    help: 'Which way this ESC drives its motor. Wrong on one arm, the craft flips at take-off. Spin proves it.',
    storage: everywhere(u8(4)),
  },
  {
    key: 'timing',
    name: 'Timing advance',
    aside: 'electrical degrees',
    unit: '°',
    min: 0,
    max: 30,
    step: 7.5,
    default: 15,
    choices: [0, 7.5, 15, 22.5, 30].map((value) => ({value, label: String(value)})),
    ticks: [0, 7.5, 15, 22.5, 30],
    help: 'Commutates ahead of the rotor. Too little: less top speed, desync on hard steps. Too much: heat.',
    storage: everywhere(u8(5, {scale: 7.5})),
  },
  {
    key: 'pwm',
    name: 'PWM frequency',
    aside: 'bridge switching',
    unit: 'kHz',
    min: 0,
    max: 96,
    step: 24,
    default: 24,
    choices: [
      {value: 24, label: '24'},
      {value: 48, label: '48'},
      {value: 96, label: '96'},
      {value: pwmFollows, label: 'follow'},
    ],
    ticks: [24, 48, 96],
    help: 'Low for torque at low throttle, high for efficiency and quieter running. Follow: rises with motor speed.',
    storage: {
      5: u8(6, {scale: 24, lacks: [pwmFollows]}),
      6: u8(6, {scale: 24, lacks: [pwmFollows]}),
      8: u8(6, {scale: 24}),
    },
  },
  {
    key: 'activeBraking',
    name: 'Active braking',
    aside: 'on throttle cut',
    unit: '',
    min: 0,
    max: 1,
    step: 1,
    default: 1,
    choices: offOn,
    ticks: [0, 1],
    help: 'Slows the motor with its own current when throttle falls. Off on one ESC only, that arm dips at every throttle cut.',
    storage: everywhere(u8(7)),
  },
  {
    key: 'brakeStrength',
    name: 'Brake strength',
    aside: 'current while braking',
    unit: '%',
    min: 10,
    max: 100,
    step: 5,
    default: 60,
    ticks: [10, 40, 70, 100],
    help: 'Share of the allowed braking current. Low: slow to follow the throttle. High: pushes current back into the battery.',
    storage: {5: u8(16), 6: u8(16), 8: u8(24)},
  },
  {
    key: 'demag',
    name: 'Demag compensation',
    aside: 'desync guard',
    unit: '',
    min: 0,
    max: 2,
    step: 1,
    default: 1,
    choices: [
      {value: 0, label: 'off'},
      {value: 1, label: 'low'},
      {value: 2, label: 'high'},
    ],
    ticks: [0, 1, 2],
    help: 'Cuts power for a moment when a winding is not yet free of current. Off: desync on hard steps. High: less punch.',
    storage: everywhere(u8(8)),
  },
  {
    key: 'startLow',
    name: 'Lowest start-up power',
    aside: 'torque while starting',
    unit: 'µs',
    min: 1000,
    max: 1125,
    step: 5,
    default: 1050,
    ticks: [1000, 1050, 1100],
    scale: {from: 1000, to: 1125},
    help: 'Least torque while starting. Too low: the motor stutters. Too high: it jumps.',
    storage: {
      3: u8(20, {scale: 5, bias: 200}),
      5: u8(9, {scale: 5, bias: 200}),
      6: u8(9, {scale: 5, bias: 200}),
      8: u8(25, {scale: 5, bias: 200}),
    },
  },
  {
    key: 'startHigh',
    name: 'Highest start-up power',
    aside: 'torque while starting',
    unit: 'µs',
    min: 1000,
    max: 1300,
    step: 5,
    default: 1125,
    ticks: [1000, 1100, 1200, 1300],
    help: 'Most torque while starting. Too low: heavy propellers do not get going. Too high: a stalled motor burns.',
    storage: everywhere(u8(10, {scale: 5, bias: 200})),
  },
  {
    key: 'lowSpeedLimit',
    name: 'Low-speed limit',
    aside: 'protects small motors',
    unit: '×',
    min: 1,
    max: 13,
    step: 1,
    default: 9,
    ticks: [1, 5, 9, 13],
    help: 'How fast power may rise at low speed. Low: a stalled motor survives. High: quicker spin-up.',
    storage: everywhere(u8(11)),
  },
  {
    key: 'throttleMin',
    name: 'Throttle minimum',
    aside: 'own per ESC',
    unit: 'µs',
    min: 1000,
    max: 1100,
    step: 1,
    default: 1020,
    ticks: [1000, 1020, 1040, 1060],
    scale: {from: 1000, to: 1060},
    perMotor: true,
    calibratedSpread: 10,
    help: 'Analog pulse taken as zero throttle. Calibration makes it differ from ESC to ESC by up to about 10 µs.',
    storage: everywhere(u16(12)),
  },
  {
    key: 'throttleMax',
    name: 'Throttle maximum',
    aside: 'own per ESC',
    unit: 'µs',
    min: 1800,
    max: 2000,
    step: 1,
    default: 1980,
    ticks: [1970, 1980, 1990, 2000],
    scale: {from: 1970, to: 2000},
    perMotor: true,
    calibratedSpread: 10,
    help: 'Analog pulse taken as full throttle. Calibration makes it differ from ESC to ESC by up to about 10 µs.',
    storage: everywhere(u16(14)),
  },
  {
    key: 'toneLoudness',
    name: 'Tone loudness',
    aside: 'start and warning',
    unit: 'of 255',
    min: 0,
    max: 255,
    step: 1,
    default: 90,
    ticks: [0, 85, 170, 255],
    help: 'Loudness of tones made with the motors. Under a third of the range it is hard to hear on a small craft.',
    storage: {2: u8(17), 3: u8(22), ...same(u8(17))},
  },
  {
    key: 'temperatureLimit',
    name: 'Temperature limit',
    aside: 'cuts power at',
    unit: '°C',
    min: 60,
    max: 140,
    step: 5,
    default: 105,
    ticks: [60, 80, 105, 140],
    help: 'The ESC takes power back above this. Too low: weak on a hot day. Too high: the bridge ages.',
    storage: {2: u8(18), 3: u8(18), ...same(u8(18))},
  },
  {
    key: 'melody',
    name: 'Start-up melody',
    aside: 'after the three tones',
    unit: '',
    min: 0,
    max: 2,
    step: 1,
    default: 0,
    choices: [
      {value: 0, label: 'silent'},
      {value: 1, label: 'rising'},
      {value: 2, label: 'falling'},
    ],
    ticks: [0, 1, 2],
    help: 'Played after power-up. Harmless; handy to tell craft apart.',
    storage: {8: u8(26)},
  },
];

const byKey = new Map(parameterDefinitions.map((d) => [d.key, d]));

export function definitionOf(key: ParameterKey): ParameterDefinition {
  const definition = byKey.get(key);
  if (!definition) throw new RangeError(`No parameter "${key}"`);
  return definition;
}

/** Why `value` may not be planned, in a sentence; undefined when it may. */
export function refusalOf(definition: ParameterDefinition, value: number): string | undefined {
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

/**
 * Every field of a flight controller that Bidex plans, defined once: its name, how its value reads, where each version of the
 * firmware keeps it in the controller text, what it takes there, what it means, and what a firmware has that nobody told
 * otherwise. Numbers take their ranges from `ranges`. Plumb 2.0 keeps some under other names and in other places than 2.2;
 * a field that a firmware does not have has no place there.
 */
import type {TomlValue} from 'smol-toml';
import {protocolName, protocolSchema} from '../dshot/protocol';
import {lowPassKinds, lowPassName, type LowPassKind} from '../filters/section';
import {failSafeActions, receiverKinds, switchUses} from './arming-fields';
import {failSafeText, mountingText, receiverText, switchesText} from './arming-text';
import {fixedFilters} from './chain-of';
import {listOf, numberIn, oneOf, onOff, tablesOf, type Kind} from './kinds';
import type {ControllerPlan} from './plan';
import {ranges, type Range} from './ranges';

/** Versions whose text is known, oldest first. */
export const textVersions = ['2.0', '2.2'] as const;
export type TextVersion = (typeof textVersions)[number];

export interface Place {
  readonly section: string;
  /** Undefined where the section itself is the value: a list of tables. */
  readonly key: string | undefined;
  readonly kind: Kind;
  /** From the field's value to that of the line and back, where they differ. */
  readonly toLine?: (value: TomlValue) => TomlValue;
  readonly fromLine?: (line: TomlValue) => TomlValue;
}
type Places = Readonly<Partial<Record<TextVersion, Place>>>;

/** A line of the controller text: the field, or one part of it. */
export interface FieldLine {
  /** Part of the field that the line holds, such as yaw of the mounting; undefined for all of it. */
  readonly part?: string;
  readonly comment: string;
  readonly places: Places;
  /** What a firmware has that nobody told otherwise. */
  readonly usual: TomlValue;
}

export interface FieldDefinition<Value> {
  readonly name: string;
  readonly text: (value: Value) => string;
  readonly lines: readonly FieldLine[];
}

type Options = Pick<Place, 'toLine' | 'fromLine'>;
function at(place: string, kind: Kind, options: Options = {}): Place {
  const [section, key] = place.split('.') as [string, string | undefined];
  return {section, key, kind, ...options};
}
/** The same place in every version. */
const always = (place: string, kind: Kind): Places => ({'2.0': at(place, kind), '2.2': at(place, kind)});
const since22 = (place: string, kind: Kind): Places => ({'2.2': at(place, kind)});
const moved = (was: string, is: string, kind: Kind): Places => ({'2.0': at(was, kind), '2.2': at(is, kind)});

const line = (comment: string, places: Places, usual: TomlValue): readonly FieldLine[] => [{comment, places, usual}];
const part = (name: string, comment: string, places: Places, usual: TomlValue): FieldLine => ({
  ...{part: name, comment, places, usual},
});

const isOn = (value: boolean): string => (value ? 'on' : 'off');
const plain = (value: unknown): string => String(value);
const withUnit =
  ({unit}: Range) =>
  (value: number) =>
    unit ? `${value} ${unit}` : `${value}`;
/** A number whose 0 says something of its own. */
const orZero = (range: Range, zero: string) => (value: number) => (value === 0 ? zero : withUnit(range)(value));
const lowPassText = (kind: LowPassKind): string => lowPassName[kind];
/** Lists of strengths that mean the same read the same: whole ones at the end say nothing. */
function weightsText(weights: readonly number[]): string {
  const told = weights.slice(0, weights.findLastIndex((w) => w !== 100) + 1);
  return told.length ? told.map((w, i) => `${i + 1}× ${w} %`).join(' ') : 'whole';
}

/** Arms are counted from 1 in a text. */
function counted(): Options {
  const shift = (by: number) => (v: TomlValue) => (v as number[]).map((n) => n + by);
  return {toLine: shift(1), fromLine: shift(-1)};
}
/** 2.0 keeps idle as a pulse: one percent is 10 µs above 1000. */
const idlePulse: Options = {
  toLine: (v) => Math.round((1000 + 10 * (v as number)) * 10) / 10,
  fromLine: (v) => Math.round((v as number) - 1000) / 10,
};

const channel = numberIn(ranges.channel);
const pulse = numberIn(ranges.pulse);
const harmonics = listOf(numberIn(ranges.harmonic), ranges.harmonic.max);
const arms = listOf(numberIn({min: 1, max: 16, isWhole: true}), 16);
const filterKind = oneOf(lowPassKinds);
const fullComment = 'cut-off at full throttle, 0 for the same';

type Definitions = {readonly [Field in keyof ControllerPlan]-?: FieldDefinition<NonNullable<ControllerPlan[Field]>>};

const motors = {
  protocol: {
    ...{name: 'Motor protocol', text: (v) => protocolName[v]},
    lines: line('to the ESCs', always('motors.protocol', oneOf(protocolSchema.options)), 'dshot300'),
  },
  replies: {
    ...{name: 'Bidirectional replies', text: isOn},
    lines: line('bidirectional DShot', since22('motors.replies', onOff), false),
  },
  extendedReplies: {
    ...{name: 'Extended replies', text: isOn},
    lines: line(
      'temperature, voltage, current and state with the replies',
      since22('motors.extended_replies', onOff),
      false,
    ),
  },
  poles: {
    ...{name: 'Motor poles', text: plain},
    lines: line('magnets of one motor', always('motors.poles', numberIn(ranges.poles)), 14),
  },
  loopHz: {
    ...{name: 'Control loop', text: (v) => `${v / 1000} kHz`},
    lines: line('control loop', always('loop.loop_hz', numberIn(ranges.loopHz)), 4000),
  },
  arms: {
    ...{name: 'Arm of each output', text: (v) => v.map((arm) => arm + 1).join(' ')},
    lines: line(
      'arm of each output, counted from 1',
      {'2.0': at('motors.output_order', arms, counted()), '2.2': at('motors.arms', arms, counted())},
      [0, 1, 2, 3],
    ),
  },
  props: {
    ...{name: 'Rotation direction, props', text: plain},
    lines: line('propellers in front turn in or out', always('motors.props', oneOf(['in', 'out'])), 'in'),
  },
  idlePercent: {
    ...{name: 'Idle throttle', text: withUnit(ranges.idlePercent)},
    lines: line(
      'least throttle while armed',
      {
        '2.0': at('motors.idle_us', numberIn({min: 1000, max: 1150, unit: 'µs'}), idlePulse),
        '2.2': at('motors.idle_percent', numberIn(ranges.idlePercent)),
      },
      5,
    ),
  },
} satisfies Partial<Definitions>;

const notches = {
  notchHarmonics: {
    ...{name: 'Motor-speed notches', text: (v) => (v.length ? v.map((h) => `${h}×`).join(' ') : 'none')},
    lines: line('multiples of motor speed that are notched', since22('motor_notches.harmonics', harmonics), []),
  },
  notchWeights: {
    ...{name: 'Strength of those notches', text: weightsText},
    lines: line(
      'strength on 1×, 2×, …, %',
      since22('motor_notches.strengths', listOf(numberIn(ranges.notchWeight), ranges.harmonic.max)),
      [],
    ),
  },
  notchQ: {
    ...{name: 'Notch width, Q', text: plain},
    lines: line('width', since22('motor_notches.q', numberIn(ranges.notchQ)), 5),
  },
  notchMinHz: {
    ...{name: 'Lowest notch frequency', text: withUnit(ranges.notchMinHz)},
    lines: line('lowest frequency', since22('motor_notches.lowest_hz', numberIn(ranges.notchMinHz)), 100),
  },
  notchFadeHz: {
    ...{name: 'Notch fade-in', text: withUnit(ranges.notchFadeHz)},
    lines: line(
      'fades in over so much above the lowest',
      since22('motor_notches.fade_hz', numberIn(ranges.notchFadeHz)),
      fixedFilters.notchFadeHz,
    ),
  },
  speedLowPassHz: {
    ...{name: 'Smoothing of speeds', text: orZero(ranges.speedLowPassHz, 'none')},
    lines: line(
      'smoothing of speeds, 0 for none',
      since22('motor_notches.speed_smoothing_hz', numberIn(ranges.speedLowPassHz)),
      fixedFilters.speedLowPassHz,
    ),
  },
  movingNotches: {
    ...{name: 'Moving notches', text: plain},
    lines: line(
      'notches that look for peaks',
      moved('filters.notches', 'moving_notches.count', numberIn(ranges.movingNotches)),
      2,
    ),
  },
  movingQ: {
    ...{name: 'Moving notch width, Q', text: plain},
    lines: line('width', moved('filters.notch_q', 'moving_notches.q', numberIn(ranges.movingQ)), fixedFilters.movingQ),
  },
  movingMinHz: {
    ...{name: 'Moving notches from', text: withUnit(ranges.movingMinHz)},
    lines: line('they look from here', since22('moving_notches.from_hz', numberIn(ranges.movingMinHz)), 100),
  },
  movingMaxHz: {
    ...{name: 'Moving notches up to', text: withUnit(ranges.movingMaxHz)},
    lines: line(
      'up to here',
      since22('moving_notches.up_to_hz', numberIn(ranges.movingMaxHz)),
      fixedFilters.movingMaxHz,
    ),
  },
} satisfies Partial<Definitions>;

const lowPasses = {
  gyroLowPass: {
    ...{name: 'Gyro low-pass kind', text: lowPassText},
    lines: line('kind', since22('low_passes.gyro', filterKind), fixedFilters.gyroLowPass),
  },
  gyroLowPassHz: {
    ...{name: 'Gyro low-pass', text: withUnit(ranges.gyroLowPassHz)},
    lines: line(
      'cut-off',
      {
        // 2.0 goes lower than 2.2 takes.
        '2.0': at('filters.gyro_hz', numberIn({...ranges.gyroLowPassHz, min: 20})),
        '2.2': at('low_passes.gyro_hz', numberIn(ranges.gyroLowPassHz)),
      },
      250,
    ),
  },
  gyroLowPassFullHz: {
    ...{name: 'Gyro low-pass at full throttle', text: orZero(ranges.gyroLowPassFullHz, 'fixed')},
    lines: line(
      fullComment,
      since22('low_passes.gyro_full_hz', numberIn(ranges.gyroLowPassFullHz)),
      fixedFilters.gyroLowPassFullHz,
    ),
  },
  dLowPass: {
    ...{name: 'D low-pass kind', text: lowPassText},
    lines: line('kind, on the derivative', since22('low_passes.d', filterKind), fixedFilters.dLowPass),
  },
  dLowPassHz: {
    ...{name: 'D low-pass', text: withUnit(ranges.dLowPassHz)},
    lines: line(
      'cut-off',
      moved('filters.d_hz', 'low_passes.d_hz', numberIn(ranges.dLowPassHz)),
      fixedFilters.dLowPassHz,
    ),
  },
  dLowPassFullHz: {
    ...{name: 'D low-pass at full throttle', text: orZero(ranges.dLowPassFullHz, 'fixed')},
    lines: line(
      fullComment,
      since22('low_passes.d_full_hz', numberIn(ranges.dLowPassFullHz)),
      fixedFilters.dLowPassFullHz,
    ),
  },
} satisfies Partial<Definitions>;

const angle = (name: 'yaw' | 'pitch' | 'roll', comment: string): FieldLine =>
  part(name, comment, always(`mounting.${name}`, numberIn(ranges[`mounting.${name}`])), 0);
const stick = (name: string, usual: number): FieldLine =>
  part(name, 'channel', moved(`channels.${name}`, `receiver.${name}`, channel), usual);

const board = {
  clockMhz: {
    ...{name: 'Clock of the processor', text: orZero(ranges.clockMhz, 'as rated')},
    lines: line(
      'of the processor, 0 for the one it is rated for',
      since22('loop.clock_mhz', numberIn(ranges.clockMhz)),
      0,
    ),
  },
  mounting: {
    ...{name: 'Mounting of the board', text: mountingText},
    lines: [
      angle('yaw', 'board turned in the craft, degrees'),
      angle('pitch', 'nose up, degrees'),
      angle('roll', 'right side down, degrees'),
    ],
  },
  accelerometer: {
    ...{name: 'Accelerometer', text: isOn},
    lines: line('read it', moved('mounting.use_accelerometer', 'mounting.accelerometer', onOff), true),
  },
  receiver: {
    ...{name: 'Receiver', text: receiverText},
    lines: [
      part('kind', 'how it talks', always('receiver.kind', oneOf(receiverKinds)), 'serial'),
      part('port', 'serial port, 0 for pulses', always('receiver.port', numberIn(ranges['receiver.port'])), 1),
      ...[stick('roll', 1), stick('pitch', 2), stick('throttle', 3), stick('yaw', 4)],
      part(
        'deadBandUs',
        'around the centre',
        moved('channels.dead_band', 'receiver.dead_band_us', numberIn(ranges['receiver.deadBandUs'])),
        0,
      ),
    ],
  },
  switches: {
    ...{name: 'Switches', text: switchesText},
    lines: line(
      'what a channel does between two pulses',
      always('switches', tablesOf({use: oneOf(switchUses), channel, from_us: pulse, to_us: pulse})),
      [],
    ),
  },
  failSafe: {
    ...{name: 'Fail-safe', text: failSafeText},
    lines: [
      part('action', 'without a signal', always('fail_safe.action', oneOf(failSafeActions)), 'drop'),
      part(
        'afterMs',
        'after so long',
        moved('fail_safe.delay_ms', 'fail_safe.after_ms', numberIn(ranges['failSafe.afterMs'])),
        400,
      ),
    ],
  },
} satisfies Partial<Definitions>;

export const definitions: Definitions = {...motors, ...notches, ...lowPasses, ...board};
export const definedFields = Object.keys(definitions) as readonly (keyof ControllerPlan)[];

/** The whole value that a firmware has where nobody told it otherwise. */
export function usualOf(field: keyof ControllerPlan): TomlValue {
  const {lines} = definitions[field];
  return lines[0]!.part === undefined ? lines[0]!.usual : Object.fromEntries(lines.map((l) => [l.part!, l.usual]));
}

/** Fields that the firmware has from a version on, and not before. */
export const fieldsSince = (version: TextVersion): readonly (keyof ControllerPlan)[] => {
  const before = textVersions[textVersions.indexOf(version) - 1];
  const isIn = (field: keyof ControllerPlan, of: TextVersion) => definitions[field].lines.some((l) => l.places[of]);
  return definedFields.filter((field) => isIn(field, version) && !(before && isIn(field, before)));
};

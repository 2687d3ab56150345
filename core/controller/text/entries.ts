/**
 * Every line of the controller text: where each firmware keeps it, what it takes, what it means. Plumb 2.0 keeps some under
 * other names and in other places than 2.2; a line that a firmware does not have has no place there.
 */
import {protocolSchema} from '../../dshot/protocol';
import {lowPassKinds} from '../../filters/section';
import {failSafeActions, receiverKinds, switchUses} from '../arming-fields';
import {anyText, listOf, number, oneOf, onOff, tablesOf, whole, type Kind} from './kinds';
import type {TomlValue} from 'smol-toml';

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

export interface Entry {
  /** Way to the field in a configuration, such as mounting.yaw. */
  readonly field: string;
  readonly comment: string;
  readonly places: Readonly<Partial<Record<TextVersion, Place>>>;
  /** What a firmware has that nobody told otherwise. */
  readonly usual: TomlValue;
}

type Options = Pick<Place, 'toLine' | 'fromLine'>;
const at = (place: string, kind: Kind, options: Options = {}): Place => {
  const [section, key] = place.split('.') as [string, string | undefined];
  return {section, key, kind, ...options};
};
/** The same place in every version. */
const always = (place: string, kind: Kind): Entry['places'] => ({'2.0': at(place, kind), '2.2': at(place, kind)});
const since22 = (place: string, kind: Kind): Entry['places'] => ({'2.2': at(place, kind)});
const moved = (was: string, is: string, kind: Kind): Entry['places'] => ({'2.0': at(was, kind), '2.2': at(is, kind)});

const channel = whole(1, 18);
const pulse = number(800, 2200, 'µs');
const switchKeys = {use: oneOf(switchUses), channel, from_us: pulse, to_us: pulse};
const filterKind = oneOf(lowPassKinds);
const fullHz = number(0, 1000, 'Hz');

export const entries: readonly Entry[] = [
  {
    field: 'protocol',
    comment: 'to the ESCs',
    places: always('motors.protocol', oneOf(protocolSchema.options)),
    usual: 'analog',
  },
  {field: 'replies', comment: 'bidirectional DShot', places: since22('motors.replies', onOff), usual: false},
  {
    field: 'extendedReplies',
    comment: 'temperature, voltage, current and state with the replies',
    places: since22('motors.extended_replies', onOff),
    usual: false,
  },
  {field: 'poles', comment: 'magnets of one motor', places: always('motors.poles', whole(2, 60)), usual: 14},
  {
    ...{field: 'arms', comment: 'arm of each output, counted from 1', usual: [0, 1, 2, 3]},
    places: {
      '2.0': at('motors.output_order', listOf(whole(1, 16), 16), counted()),
      '2.2': at('motors.arms', listOf(whole(1, 16), 16), counted()),
    },
  },
  {
    field: 'props',
    comment: 'propellers in front turn in or out',
    places: always('motors.props', oneOf(['in', 'out'])),
    usual: 'in',
  },
  {
    ...{field: 'idlePercent', comment: 'least throttle while armed', usual: 5},
    places: {
      '2.0': at('motors.idle_us', number(1000, 1150, 'µs'), {
        toLine: (v) => Math.round((1000 + 10 * (v as number)) * 10) / 10,
        fromLine: (v) => Math.round((v as number) - 1000) / 10,
      }),
      '2.2': at('motors.idle_percent', number(0, 15, '%')),
    },
  },
  {field: 'loopHz', comment: 'control loop', places: always('loop.loop_hz', whole(1, 1_000_000, 'Hz')), usual: 4000},
  {
    field: 'clockMhz',
    comment: 'of the processor, 0 for the one it is rated for',
    places: since22('loop.clock_mhz', whole(0, 1000, 'MHz')),
    usual: 0,
  },
  {
    field: 'notchHarmonics',
    comment: 'multiples of motor speed that are notched',
    places: since22('motor_notches.harmonics', listOf(whole(1, 5), 5)),
    usual: [],
  },
  {
    field: 'notchWeights',
    comment: 'strength on 1×, 2×, …, %',
    places: since22('motor_notches.strengths', listOf(whole(0, 100, '%'), 5)),
    usual: [],
  },
  {field: 'notchQ', comment: 'width', places: since22('motor_notches.q', number(1, 20)), usual: 5},
  {
    field: 'notchMinHz',
    comment: 'lowest frequency',
    places: since22('motor_notches.lowest_hz', number(20, 400, 'Hz')),
    usual: 100,
  },
  {
    field: 'notchFadeHz',
    comment: 'fades in over so much above the lowest',
    places: since22('motor_notches.fade_hz', number(0, 200, 'Hz')),
    usual: 0,
  },
  {
    field: 'speedLowPassHz',
    comment: 'smoothing of speeds, 0 for none',
    places: since22('motor_notches.speed_smoothing_hz', number(0, 500, 'Hz')),
    usual: 0,
  },
  {
    field: 'movingNotches',
    comment: 'notches that look for peaks',
    places: moved('filters.notches', 'moving_notches.count', whole(0, 5)),
    usual: 2,
  },
  {field: 'movingQ', comment: 'width', places: moved('filters.notch_q', 'moving_notches.q', number(1, 20)), usual: 3},
  {
    field: 'movingMinHz',
    comment: 'they look from here',
    places: since22('moving_notches.from_hz', number(20, 400, 'Hz')),
    usual: 100,
  },
  {
    field: 'movingMaxHz',
    comment: 'up to here',
    places: since22('moving_notches.up_to_hz', number(100, 2000, 'Hz')),
    usual: 600,
  },
  {field: 'gyroLowPass', comment: 'kind', places: since22('low_passes.gyro', filterKind), usual: 'biquad-lowpass'},
  {
    ...{field: 'gyroLowPassHz', comment: 'cut-off', usual: 250},
    // 2.0 goes lower than 2.2 takes.
    places: {
      '2.0': at('filters.gyro_hz', number(20, 1000, 'Hz')),
      '2.2': at('low_passes.gyro_hz', number(50, 1000, 'Hz')),
    },
  },
  {
    field: 'gyroLowPassFullHz',
    comment: 'cut-off at full throttle, 0 for the same',
    places: since22('low_passes.gyro_full_hz', fullHz),
    usual: 0,
  },
  {
    field: 'dLowPass',
    comment: 'kind, on the derivative',
    places: since22('low_passes.d', filterKind),
    usual: 'biquad-lowpass',
  },
  {
    field: 'dLowPassHz',
    comment: 'cut-off',
    places: moved('filters.d_hz', 'low_passes.d_hz', number(20, 1000, 'Hz')),
    usual: 110,
  },
  {
    field: 'dLowPassFullHz',
    comment: 'cut-off at full throttle, 0 for the same',
    places: since22('low_passes.d_full_hz', fullHz),
    usual: 0,
  },
  {
    field: 'mounting.yaw',
    comment: 'board turned in the craft, degrees',
    places: always('mounting.yaw', number(-180, 180, '°')),
    usual: 0,
  },
  {
    field: 'mounting.pitch',
    comment: 'nose up, degrees',
    places: always('mounting.pitch', number(-180, 180, '°')),
    usual: 0,
  },
  {
    field: 'mounting.roll',
    comment: 'right side down, degrees',
    places: always('mounting.roll', number(-180, 180, '°')),
    usual: 0,
  },
  {
    field: 'accelerometer',
    comment: 'read it',
    places: moved('mounting.use_accelerometer', 'mounting.accelerometer', onOff),
    usual: true,
  },
  {
    field: 'receiver.kind',
    comment: 'how it talks',
    places: always('receiver.kind', oneOf(receiverKinds)),
    usual: 'serial',
  },
  {
    field: 'receiver.port',
    comment: 'serial port, 0 for pulses',
    places: always('receiver.port', whole(0, 10)),
    usual: 1,
  },
  {field: 'receiver.roll', comment: 'channel', places: moved('channels.roll', 'receiver.roll', channel), usual: 1},
  {field: 'receiver.pitch', comment: 'channel', places: moved('channels.pitch', 'receiver.pitch', channel), usual: 2},
  {
    field: 'receiver.throttle',
    comment: 'channel',
    places: moved('channels.throttle', 'receiver.throttle', channel),
    usual: 3,
  },
  {field: 'receiver.yaw', comment: 'channel', places: moved('channels.yaw', 'receiver.yaw', channel), usual: 4},
  {
    field: 'receiver.deadBandUs',
    comment: 'around the centre',
    places: moved('channels.dead_band', 'receiver.dead_band_us', number(0, 100, 'µs')),
    usual: 0,
  },
  {
    field: 'switches',
    comment: 'what a channel does between two pulses',
    places: always('switches', tablesOf(switchKeys)),
    usual: [],
  },
  {
    field: 'failSafe.action',
    comment: 'without a signal',
    places: always('fail_safe.action', oneOf(failSafeActions)),
    usual: 'drop',
  },
  {
    field: 'failSafe.afterMs',
    comment: 'after so long',
    places: moved('fail_safe.delay_ms', 'fail_safe.after_ms', number(50, 10_000, 'ms')),
    usual: 1000,
  },
];

/** Entry that a line is of, by the places of a version. */
export const entryOf = (
  {section, key}: {readonly section: string; readonly key: string},
  version: TextVersion,
): Entry | undefined =>
  entries.find((e) => e.places[version]?.section === section && (e.places[version].key ?? '') === key);

/** Lines about the controller itself: they say what the text is of and are never written. */
export const headSection = 'controller';
export const headKeys: Readonly<Record<string, Kind>> = {
  firmware: anyText,
  version: anyText,
  board: anyText,
  chip: anyText,
  gyro_hz: number(1, 1_000_000, 'Hz'),
};

function counted(): Options {
  const shift = (by: number) => (v: TomlValue) => (v as number[]).map((n) => n + by);
  return {toLine: shift(1), fromLine: shift(-1)};
}

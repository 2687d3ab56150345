/** Settings of the invented firmware about what else is on board: battery, signal, logging, video, overlay, lights, ports. */
import {choice, fresh, list, made, number, table, text, truth, type MadeSetting} from './made-setting';

const battery = [
  made('battery.meter', [choice('off', 'divider', 'ESCs'), 'divider'], 'Where the pack voltage comes from.', {
    before: {kind: choice('none', 'adc', 'esc'), usual: 'adc', words: {none: 'off', adc: 'divider', esc: 'ESCs'}},
  }),
  made('battery.scale', [number(10, 255, 1), 110], 'Divider of the voltage meter.'),
  made('battery.warning_v', [number(2.5, 5, 0.01, 'V'), 3.5], 'Voltage of a cell at which it warns.', {
    before: {kind: number(25, 50, 1, '× 0.1 V'), usual: 35, times: 0.1},
  }),
  made('battery.lowest_v', [number(2.5, 5, 0.01, 'V'), 3.3], 'Voltage of a cell below which nobody should fly on.', {
    before: {key: 'battery.min_v', kind: number(25, 50, 1, '× 0.1 V'), usual: 33, times: 0.1},
  }),
  made('battery.full_v', [number(3.8, 5, 0.01, 'V'), 4.2], 'Voltage of a full cell, from which cells are counted.', {
    before: {key: 'battery.max_v', kind: number(38, 50, 1, '× 0.1 V'), usual: 42, times: 0.1},
  }),
  made('battery.cells', [number(0, 14, 1), 0], 'Cells in series, 0 for counted at power-up.', fresh),
  made('battery.capacity_mah', [number(0, 50_000, 10, 'mAh'), 0], 'Charge of a full pack, 0 where it is not known.'),
  made('battery.current_meter', [choice('off', 'shunt', 'ESCs'), 'off'], 'Where the current comes from.'),
  made(
    'battery.current_scale',
    [number(-16_000, 16_000, 1, '× 0.1 mV/A'), 400],
    'Voltage of the shunt for one ampere.',
  ),
  made('battery.current_offset_ma', [number(-32_000, 32_000, 1, 'mA'), 0], 'Current that the meter reads at rest.'),
];

const signal = [
  made(
    'signal.from',
    [choice('receiver', 'channel', 'analog'), 'receiver'],
    'Where the strength of the signal comes from.',
  ),
  made('signal.channel', [number(0, 18, 1), 0], 'Channel that carries it, 0 for none.', {
    before: {key: 'signal.aux'},
  }),
  made('signal.scale_percent', [number(1, 255, 1, '%'), 100], 'Scale of what is shown.'),
  made('signal.turned_round', [truth, false], 'Whether a low value is a strong signal.'),
  made('signal.warning_percent', [number(0, 100, 1, '%'), 20], 'Strength below which it warns.'),
  made(
    'signal.quality_warning_percent',
    [number(0, 100, 1, '%'), 70],
    'Share of good frames below which it warns.',
    fresh,
  ),
];

const logging = [
  made('logging.to', [choice('off', 'flash', 'card', 'port'), 'flash'], 'Where flights are logged.'),
  made('logging.rate_share', [choice('1', '1/2', '1/4', '1/8', '1/16'), '1/2'], 'Share of the loops that are logged.', {
    before: {
      key: 'logging.every',
      kind: number(1, 16, 1),
      usual: 2,
      words: {'1': '1', '2': '1/2', '4': '1/4', '8': '1/8', '16': '1/16'},
    },
  }),
  made('logging.begins', [choice('armed', 'switch', 'always'), 'armed'], 'When a log begins.'),
  made(
    'logging.keeps',
    [
      list(12, choice('gyro', 'unfiltered gyro', 'sticks', 'motors', 'speeds', 'loop parts', 'battery', 'attitude')),
      ['gyro', 'unfiltered gyro', 'sticks', 'motors', 'speeds'],
    ],
    'What a log keeps of each loop.',
    fresh,
  ),
  made('logging.erase_when_full', [truth, false], 'Whether the oldest flight makes room for a new one.', fresh),
];

const craft = [
  made('craft.name', [text(24), ''], 'Name of the craft, shown in the overlay and in logs.'),
  made('craft.pilot', [text(24), ''], 'Name of who flies it.', fresh),
  made('craft.profile', [number(1, 4, 1), 1], 'Set of gains and rates that is used.'),
];

const bands = [
  {name: 'low', letter: 'L', channels: '5362 5399 5436 5473'},
  {name: 'middle', letter: 'M', channels: '5620 5660 5700 5740'},
  {name: 'high', letter: 'H', channels: '5780 5800 5820 5840'},
];
const video = [
  made('video.band', [number(0, 8, 1), 1], 'Row of the table of bands that is sent on, 0 for a frequency of its own.'),
  made('video.channel', [number(1, 8, 1), 1], 'Channel of that band.'),
  made('video.frequency_mhz', [number(0, 5999, 1, 'MHz'), 0], 'Frequency of its own, 0 where band and channel say it.'),
  made('video.power', [number(1, 5, 1), 1], 'Row of the table of powers.'),
  made(
    'video.quiet_until_armed',
    [choice('never', 'always', 'until armed'), 'never'],
    'Whether it sends with the least power on the ground.',
    {
      before: {
        key: 'video.low_power',
        kind: choice('off', 'on', 'until_arm'),
        usual: 'off',
        words: {off: 'never', on: 'always', until_arm: 'until armed'},
      },
    },
  ),
  made(
    'video.bands',
    [table(8, {name: text(8), letter: text(1), channels: text(60)}), bands],
    'Bands of the video transmitter, with the frequencies of their channels, MHz.',
  ),
  made(
    'video.powers',
    [
      table(5, {label: text(3), value: number(0, 5000, 1)}),
      [
        {label: '25', value: 14},
        {label: '200', value: 23},
        {label: '600', value: 27},
      ],
    ],
    'Steps of power, with the value that the transmitter takes for each.',
  ),
];

const placed = (what: string, x: number, y: number, shown: boolean) => ({what, x, y, shown});
const elements = [
  placed('cell voltage', 12, 1, true),
  placed('flight time', 1, 11, true),
  placed('signal', 23, 1, true),
  placed('throttle', 1, 7, false),
  placed('current', 1, 12, false),
  placed('charge used', 1, 13, true),
  placed('craft name', 9, 11, true),
  placed('horizon', 14, 2, false),
  placed('warnings', 9, 10, true),
  placed('altitude', 23, 7, false),
  placed('speed', 3, 7, false),
  placed('motor temperature', 24, 8, false),
];
const overlay = [
  made('overlay.units', [choice('metric', 'imperial'), 'metric'], 'Units of what is shown.'),
  made(
    'overlay.elements',
    [table(40, {what: text(24), x: number(0, 59, 1), y: number(0, 21, 1), shown: truth}), elements],
    'What is laid over the picture, and where: columns from the left, rows from the top.',
  ),
  made(
    'overlay.warns_of',
    [
      list(16, choice('battery', 'signal', 'hot ESC', 'lost motor', 'arming', 'log full', 'fail-safe')),
      ['battery', 'signal', 'fail-safe'],
    ],
    'Of what it warns.',
  ),
  made('overlay.signal_below_percent', [number(0, 100, 1, '%'), 20], 'Strength below which it blinks.', {
    before: {key: 'overlay.alarm_signal'},
  }),
  made('overlay.charge_above_mah', [number(0, 20_000, 10, 'mAh'), 2200], 'Charge used from which it blinks.', {
    before: {key: 'overlay.alarm_charge'},
  }),
  made('overlay.minutes_above', [number(0, 60, 1, 'min'), 10], 'Flight time from which it blinks.', {
    before: {key: 'overlay.alarm_time'},
  }),
  made('overlay.brightness', [number(0, 3, 1), 2], 'Brightness of its letters.', fresh),
];

const lights = [
  made('lights.count', [number(0, 64, 1), 0], 'Lights in the chain.'),
  made('lights.colour', [list(3, number(0, 255, 1)), [0, 90, 255]], 'Red, green and blue of those that say nothing.'),
  made('lights.brightness_percent', [number(5, 100, 1, '%'), 60], 'Brightness of all.'),
  made(
    'lights.rules',
    [table(16, {light: number(1, 64, 1), shows: choice('nothing', 'armed', 'battery', 'signal', 'turning')}), []],
    'What each light shows.',
    fresh,
  ),
  made('sounds.beeper', [truth, true], 'Whether the beeper sounds.'),
  made(
    'sounds.off_for',
    [list(12, choice('arming', 'gyro calibrated', 'battery', 'signal lost', 'power-up')), []],
    'For what it stays silent.',
  ),
  made('sounds.motors_beep', [truth, true], 'Whether motors sound where there is no beeper.'),
  made('sounds.motor_tone', [number(1, 5, 1), 1], 'Which tone they sound.'),
];

const ports = [
  made(
    'ports.uses',
    [
      table(10, {
        port: number(0, 10, 1),
        use: choice('none', 'receiver', 'video', 'position', 'telemetry', 'ESC sensor'),
        baud: number(9600, 921_600),
      }),
      [
        {port: 1, use: 'receiver', baud: 420_000},
        {port: 2, use: 'video', baud: 9600},
      ],
    ],
    'What each serial port is for.',
  ),
  made('ports.half_duplex', [truth, false], 'Whether the receiver answers on the wire it sends on.'),
  made('position.sensor', [truth, false], 'Whether a position sensor is read.'),
  made('position.least_satellites', [number(4, 50, 1), 8], 'Satellites before a position counts.'),
  made('position.rescue_height_m', [number(10, 100, 1, 'm'), 30], 'Height at which it flies back.', fresh),
];

/** What a channel beyond the sticks does when the signal is lost: as it was, or a pulse. */
const lost = [5, 6, 7, 8, 9, 10, 11, 12].flatMap((channel): MadeSetting[] => [
  made(
    `loss.channel_${channel}`,
    [choice('as it was', 'set'), 'as it was'],
    `What channel ${channel} says while no frame comes.`,
    {before: {kind: choice('hold', 'set'), usual: 'hold', words: {hold: 'as it was', set: 'set'}}},
  ),
  made(`loss.channel_${channel}_us`, [number(800, 2200, 1, 'µs'), 1500], `Its pulse where it is set.`),
]);

const telemetry = [
  made(
    'telemetry.sends',
    [list(12, choice('battery', 'current', 'attitude', 'position', 'mode')), ['battery', 'current']],
    'What is sent back to the transmitter.',
  ),
  made('telemetry.every_ms', [number(20, 1000, 10, 'ms'), 100], 'How often.', fresh),
  made(
    'telemetry.cells_not_pack',
    [truth, false],
    'Whether the voltage of a cell is sent in place of that of the pack.',
  ),
  made('telemetry.position_format', [choice('degrees', 'minutes'), 'degrees'], 'How a position is written.'),
  made('camera.tilt_channel', [number(0, 18, 1), 0], 'Channel that tilts the camera, 0 for none.'),
  made('camera.angle_degrees', [number(0, 90, 1, '°'), 0], 'Angle of the camera, by which roll and yaw are mixed.', {
    before: {key: 'camera.mix_angle'},
  }),
  made('camera.button', [choice('none', 'menu'), 'none'], 'What the button wire of the camera does.'),
  made('compass.sensor', [truth, false], 'Whether a compass is read.'),
  made('compass.turned_degrees', [number(0, 359, 1, '°'), 0], 'How it is mounted.'),
  made('height.sensor', [truth, true], 'Whether air pressure is read.'),
  made('height.smoothing', [number(0, 100, 1, '%'), 60], 'How much the height is smoothed.'),
  made(
    'profiles.switch_channel',
    [number(0, 18, 1), 0],
    'Channel that chooses the set of gains and rates, 0 for none.',
  ),
];

/** Nobody outside of its makers has heard of these. */
const odd = [
  made('lab.quirk_7', [number(0, 255, 1), 0], 'Reserved for trials of the makers.'),
  made('lab.alpha_blend', [number(0, 1, 0.001), 0.125], 'Reserved for trials of the makers.'),
  made('lab.board_key', [text(32), ''], 'Reserved for trials of the makers.'),
  made('lab.windows', [list(8, number(-1000, 1000, 0.5)), []], 'Reserved for trials of the makers.', fresh),
];

export const equipmentSettings: readonly MadeSetting[] = [
  ...battery,
  ...signal,
  ...logging,
  ...craft,
  ...video,
  ...overlay,
  ...lights,
  ...ports,
  ...lost,
  ...telemetry,
  ...odd,
];

/** Entries that only 2.0 has: nothing took their place. */
export const goneSettings: readonly MadeSetting[] = [
  made('gains.loop_kind', [choice('old', 'new'), 'new'], 'Which of two loops acts.'),
  made('battery.sag_filter_hz', [number(1, 100, 1, 'Hz'), 10], 'Cut-off of the voltage that is shown.'),
  made('telemetry.inverted', [truth, false], 'Whether the telemetry port is inverted.'),
];

/** Settings of the invented firmware about sticks and flight: turn rates, gains, smoothing, throttle, levelling. */
import {choice, fresh, made, number, table, truth, type MadeSetting} from './made-setting';

const axes = ['roll', 'pitch', 'yaw'] as const;
const perSecond = 'deg/s';

const rates = axes.flatMap((axis): MadeSetting[] => [
  made(
    `rates.${axis}_centre`,
    [number(10, 1000, 5, perSecond), axis === 'yaw' ? 180 : 200],
    `How quickly ${axis} turns near the centre of the stick, as if the whole throw were as the centre is.`, // 2.0 counted in tens of degrees per second.
    {before: {kind: number(1, 100, 0.5, '× 10 deg/s'), usual: axis === 'yaw' ? 18 : 20, times: 10}},
  ),
  made(
    `rates.${axis}_highest`,
    [number(100, 1800, 5, perSecond), axis === 'yaw' ? 500 : 670],
    `How quickly ${axis} turns with the stick at its end.`,
    {before: {key: `rates.${axis}_max`}},
  ),
  made(
    `rates.${axis}_curve`,
    [number(0, 100, 1, '%'), 0],
    `How much of the turning of ${axis} is left to the outer part of the stick.`,
  ),
]);

/** P, I, D and feed of an axis as they come. */
const usualGains = {roll: [45, 80, 30, 100], pitch: [47, 84, 34, 105], yaw: [45, 90, 0, 100]} as const;
const parts = [
  ['p', 'answers to the error of the moment'],
  ['i', 'answers to the error that lasts'],
  ['d', 'brakes a change of rate'],
  ['feed', 'answers to a move of the stick before there is an error'],
] as const;
const gains = axes.flatMap((axis) =>
  parts.map(([part, does], i) =>
    made(
      `gains.${axis}_${part}`,
      [number(0, 250, 1), usualGains[axis][i]!],
      `Part of the ${axis} loop that ${does}.`,
      part === 'feed' ? {before: {key: `gains.${axis}_follow`}} : {before: 'same'},
    ),
  ),
);

const aroundGains = [
  made('gains.whole_percent', [number(20, 300, 5, '%'), 100], 'Scales P, I and D of all axes alike.', fresh),
  made(
    'gains.quieter_from_percent',
    [number(0, 100, 1, '%'), 65],
    'Throttle from which on the gains are taken back, as motors answer more strongly there.',
    {before: {key: 'gains.throttle_from', kind: number(1000, 2000, 10, 'µs'), usual: 1650, times: 0.1, plus: -100}},
  ),
  made(
    'gains.quieter_by_percent',
    [number(0, 100, 1, '%'), 60],
    'How much of the gains is taken back at full throttle.',
  ),
  made('gains.i_limit_percent', [number(0, 100, 1, '%'), 40], 'Most that the lasting part may command.'),
  made(
    'gains.i_relaxed',
    [choice('never', 'roll and pitch', 'all axes'), 'roll and pitch'],
    'Axes on which the lasting part waits while the stick moves.',
    fresh,
  ),
  made('gains.d_rises_percent', [number(0, 100, 1, '%'), 0], 'How much D rises in quick moves.', fresh),
];

const sticks = [
  made(
    'sticks.smoothing',
    [choice('off', 'by itself', 'set'), 'by itself'],
    'Whether steps between two frames of the receiver are smoothed, and by which cut-off.',
    {
      before: {
        key: 'sticks.smooth',
        kind: choice('none', 'auto', 'fixed'),
        usual: 'auto',
        words: {none: 'off', auto: 'by itself', fixed: 'set'},
      },
    },
  ),
  made(
    'sticks.smoothing_hz',
    [number(5, 250, 1, 'Hz'), 30],
    'Cut-off of the smoothing where it is set, a low-pass of first order.',
  ),
  // One cut-off of 2.0 is two in 2.2.
  made(
    'sticks.feed_smoothing_hz',
    [number(5, 250, 1, 'Hz'), 30],
    'Cut-off of the smoothing in front of the feed of the sticks.',
    {before: {key: 'sticks.smoothing_hz'}},
  ),
  made(
    'sticks.throttle_smoothing_hz',
    [number(0, 250, 1, 'Hz'), 0],
    'Cut-off for the throttle alone, 0 for the same as the others.',
    fresh,
  ),
  made('sticks.yaw_dead_band_us', [number(0, 100, 1, 'µs'), 0], 'Around the centre of yaw nothing is commanded.'),
  made('sticks.hold_frames', [number(1, 20, 1), 4], 'Frames that may be missing before the last one counts as lost.'),
];

const throttle = [
  made('throttle.middle_percent', [number(0, 100, 1, '%'), 50], 'Where the stick is when the curve is flattest.'),
  made('throttle.curve_percent', [number(0, 100, 1, '%'), 0], 'How flat the curve is there.'),
  made(
    'throttle.limit',
    [choice('off', 'scaled', 'cut'), 'off'],
    'Whether throttle ends below full: the whole throw scaled, or its top cut.',
  ),
  made('throttle.limit_percent', [number(25, 100, 1, '%'), 100], 'Where it ends.'),
  made(
    'throttle.battery_steadied',
    [truth, false],
    'Whether throttle rises as the battery sags, so that thrust stays the same.',
    fresh,
  ),
  made('throttle.lowest_us', [number(1000, 1200, 1, 'µs'), 1050], 'Throttle below this is zero throttle.'),
];

const level = [
  made('level.trim_roll', [number(-30, 30, 0.1, '°'), 0], 'Added to the measured roll angle.'),
  made('level.trim_pitch', [number(-30, 30, 0.1, '°'), 0], 'Added to the measured pitch angle.'),
  made('level.strength', [number(0, 200, 1), 50], 'How firmly the craft turns to the angle that the stick asks.'),
  made('level.most_degrees', [number(10, 85, 1, '°'), 55], 'Steepest angle in self-level.'),
  made('level.offset_x', [number(-2000, 2000, 1, 'mg'), 0], 'What is taken off the accelerometer along the board.'),
  made(
    'level.offset_y',
    [number(-2000, 2000, 1, 'mg'), 0],
    'What is taken off the accelerometer across the board, to its right.',
  ),
  made(
    'level.offset_z',
    [number(-2000, 2000, 1, 'mg'), 0],
    'What is taken off the accelerometer through the board, downwards.',
  ),
  made(
    'level.blend_percent',
    [number(0, 100, 1, '%'), 50],
    'How far from the centre self-level gives way to turning over.',
    fresh,
  ),
];

const motorsAndGyro = [
  made(
    'behaviour.at_zero_throttle',
    [choice('motors stop', 'motors idle', 'loop acts'), 'motors idle'],
    'What armed motors do with the throttle at zero.',
    {
      before: {
        kind: choice('stop', 'idle', 'fly'),
        usual: 'idle',
        words: {stop: 'motors stop', idle: 'motors idle', fly: 'loop acts'},
      },
    },
  ),
  made(
    'behaviour.stop_after_s',
    [number(0, 60, 1, 's'), 5],
    'Disarms after so long at zero throttle on the ground, 0 for never.',
  ),
  made(
    'behaviour.thrust_straight_percent',
    [number(0, 150, 1, '%'), 0],
    'Straightens the relation of throttle and thrust.',
  ),
  made('behaviour.motor_limit_percent', [number(1, 100, 1, '%'), 100], 'Highest command to a motor.', {
    lockedWhile: 'armed',
    before: 'same',
  }),
  made(
    'behaviour.flip_percent',
    [number(0, 100, 1, '%'), 35],
    'Power for turning over a craft that lies on its back.',
    fresh,
  ),
  made('behaviour.upside_down_ok', [truth, false], 'Whether it may be armed lying on its back.'),
  made('gyro.calibrate_s', [number(0.5, 10, 0.5, 's'), 1.5], 'How long the gyro is averaged at power-up.', {
    before: {kind: number(500, 10_000, 500, 'ms'), usual: 1500, times: 0.001},
  }),
  made('gyro.still_limit', [number(0, 200, 1, 'deg/s'), 48], 'Turning beyond this while it calibrates begins it anew.'),
  made('gyro.calibrate_on_arming', [truth, false], 'Whether it calibrates once more at the first arming.'),
  made('gyro.sensor', [choice('first', 'second', 'both'), 'first'], 'Which gyro is read where the board has two.'),
  made(
    'gyro.spin_out_limit',
    [number(500, 1950, 10, 'deg/s'), 1900],
    'Turning beyond this is a spin that nobody flies: the lasting part is emptied.',
    {lockedWhile: 'armed', before: undefined},
  ),
];

const clock = [
  made(
    'loop.raised_clock',
    [choice('always', 'only without USB'), 'always'],
    'When a raised clock of the processor is used: with USB connected it can run as it is rated.',
    fresh,
  ),
];

const share = number(-1, 1, 0.001);
const mixer = [
  made(
    'mixer.rows',
    [table(8, {throttle: share, roll: share, pitch: share, yaw: share}), []],
    'A mixer of its own, one row for each output in their order. Without rows it mixes for the airframe.',
    {lockedWhile: 'armed', before: 'same'},
  ),
];

export const flightSettings: readonly MadeSetting[] = [
  ...rates,
  ...gains,
  ...aroundGains,
  ...sticks,
  ...throttle,
  ...level,
  ...motorsAndGyro,
  ...clock,
  ...mixer,
];

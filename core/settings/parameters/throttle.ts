/** Pulse widths an ESC takes for 0, mid and full throttle. Digital protocols do not use them. */
import type {ParameterDefinition} from '../parameter';
import {everywhere, u16} from './coding';

/**
 * Common practice: calibrated low ends of four ESCs differ by up to about 10 µs. A clock is off by a share, so what it makes
 * of a pulse of twice the length is off by twice as much.
 */
const spreadAtLowEndUs = 10;
const spreadAt = (pulseUs: number) => ({calibratedSpread: (spreadAtLowEndUs * pulseUs) / 1000});
const common = {unit: 'µs', step: 1, perMotor: true} as const;

export const throttle: readonly ParameterDefinition[] = [
  {
    key: 'throttleMin',
    name: 'Throttle minimum',
    aside: 'own per ESC',
    ...common,
    ...spreadAt(1000),
    min: 1000,
    max: 1100,
    default: 1020,
    ticks: [1000, 1020, 1040, 1060],
    scale: {from: 1000, to: 1060},
    help: 'Analog pulse taken as zero throttle. Calibration makes it differ from ESC to ESC.',
    tooLow: 'The motor may not stop at zero throttle.',
    tooHigh: 'Idle falls into the dead part: the motor stops in the air.',
    odd: 'that motor starts earlier or later than the others',
    storage: everywhere(u16(12)),
  },
  {
    key: 'throttleCentre',
    name: 'Throttle centre',
    aside: 'own per ESC, both ways',
    ...common,
    ...spreadAt(1500),
    min: 1400,
    max: 1600,
    default: 1500,
    ticks: [1400, 1450, 1500, 1550, 1600],
    help: 'Analog pulse at which a motor that turns both ways stops. Has no effect otherwise.',
    tooLow: 'The motor turns forward with the stick in the middle.',
    tooHigh: 'The motor turns backwards with the stick in the middle.',
    odd: 'that motor creeps with the stick in the middle',
    storage: {3: u16(25), 6: u16(23), 8: u16(34)},
  },
  {
    key: 'throttleMax',
    name: 'Throttle maximum',
    aside: 'own per ESC',
    ...common,
    ...spreadAt(2000),
    min: 1800,
    max: 2000,
    default: 1980,
    ticks: [1970, 1980, 1990, 2000],
    scale: {from: 1970, to: 2000},
    help: 'Analog pulse taken as full throttle. Calibration makes it differ from ESC to ESC.',
    tooLow: 'The last part of the stick does nothing.',
    tooHigh: 'Full throttle is never reached.',
    odd: 'that arm gives out first at full throttle',
    storage: everywhere(u16(14)),
  },
];

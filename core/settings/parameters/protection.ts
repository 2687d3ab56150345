/** Limits that protect bridge, winding and battery. */
import type {ParameterDefinition} from '../parameter';
import {chosen, everywhere, same, u8} from './coding';

const cellVolts = [2.8, 2.9, 3, 3.1, 3.2, 3.3, 3.4, 3.5, 3.6];
const off = {value: 0, label: 'off'};
const upTo140 = Array.from({length: 17}, (_, i) => 60 + 5 * i);

export const protection: readonly ParameterDefinition[] = [
  {
    key: 'currentLimit',
    name: 'Current limit',
    aside: 'per motor',
    unit: 'A',
    min: 5,
    max: 100,
    step: 1,
    default: 45,
    ticks: [5, 25, 45, 70, 100],
    help: 'The ESC takes power back above this current.',
    tooLow: 'Full throttle is cut short.',
    tooHigh: 'A blocked propeller burns the bridge before anything limits it.',
    odd: 'that arm gives out first in a punch',
    storage: same(u8(21)),
  },
  {
    key: 'temperatureLimit',
    name: 'Temperature limit',
    aside: 'cuts power at',
    ...chosen([off, ...upTo140.map((value) => ({value, label: String(value)}))], 105),
    unit: '°C',
    step: 5,
    ticks: [0, 80, 105, 140],
    help: 'The ESC takes power back above this. Off is common where a board has no sensor, or on a small craft that must never fade.',
    tooLow: 'Weak on a hot day.',
    tooHigh: 'The bridge ages; off, nothing stops it from burning.',
    odd: 'that arm fades on a hot day',
    storage: everywhere(u8(18)),
  },
  {
    key: 'lowVoltageLimit',
    name: 'Low-voltage limit',
    aside: 'per cell',
    ...chosen([off, ...cellVolts.map((value) => ({value, label: value.toFixed(1)}))], 0),
    unit: 'V',
    step: 0.1,
    help: 'The ESC takes power back when a cell falls below this.',
    tooLow: 'Cells are flown empty and age.',
    tooHigh: 'Power goes at every punch while the battery sags.',
    odd: 'one motor loses power near the end of the flight and the craft tips over',
    storage: {3: u8(24, {scale: 0.1}), ...same(u8(22, {scale: 0.1}))},
  },
];

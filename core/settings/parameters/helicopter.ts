/** The speed governor of helicopter firmware. Multirotor firmware keeps these bytes untouched. */
import type {ParameterDefinition} from '../parameter';
import {u8} from './coding';

const gain = {
  unit: '',
  min: 0,
  max: 40,
  step: 1,
  default: 10,
  ticks: [0, 10, 20, 40],
  variants: ['heli-main'],
} as const;

export const helicopter: readonly ParameterDefinition[] = [
  {
    key: 'governorP',
    name: 'Governor gain P',
    aside: 'answers a speed error',
    ...gain,
    help: 'How hard the speed governor answers a speed error.',
    tooLow: 'Rotor speed sags under load.',
    tooHigh: 'Rotor speed hunts.',
    odd: 'there is only one main rotor',
    storage: {6: u8(40), 8: u8(40)},
  },
  {
    key: 'governorI',
    name: 'Governor gain I',
    aside: 'removes what is left of it',
    ...gain,
    help: 'How fast the speed governor removes a lasting error.',
    tooLow: 'Rotor speed settles below the wish.',
    tooHigh: 'Rotor speed swings slowly.',
    odd: 'there is only one main rotor',
    storage: {6: u8(41), 8: u8(41)},
  },
];

/** What replies carry beside the speed. */
import type {ParameterDefinition} from '../parameter';
import {chosen, offOn, u8} from './coding';

export const replies: readonly ParameterDefinition[] = [
  {
    key: 'replyExtras',
    name: 'Reply extras',
    aside: 'temperature, volts, amps',
    ...chosen(offOn, 0),
    ends: ['Off', 'On'],
    help: 'Some replies carry temperature, voltage and current in place of the speed.',
    tooLow: 'Only speeds come back.',
    tooHigh: 'One reply in a while carries no speed: the filter follows a little later.',
    odd: 'one ESC shows no temperature',
    storage: {3: u8(29), 8: u8(38)},
  },
];

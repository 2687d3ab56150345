/** Sounds made with the motors. */
import type {ParameterDefinition} from '../parameter';
import {choicesOf, chosen, same, u8} from './coding';

const loudness = {unit: 'of 255', min: 0, max: 255, step: 1, ticks: [0, 85, 170, 255]} as const;

export const sounds: readonly ParameterDefinition[] = [
  {
    key: 'toneLoudness',
    name: 'Tone loudness',
    aside: 'start and warning',
    ...loudness,
    default: 90,
    help: 'Loudness of tones made with the motors.',
    tooLow: 'Below a third of the range a small craft is too quiet.',
    tooHigh: 'Windings warm while it sounds on the bench.',
    odd: 'nothing in flight; the start-up tones sound uneven',
    storage: {2: u8(17), 3: u8(22), ...same(u8(17))},
  },
  {
    key: 'lostToneLoudness',
    name: 'Lost-craft tone',
    aside: 'loudness',
    ...loudness,
    default: 140,
    help: 'Loudness of the tone that calls from the grass.',
    tooLow: 'It cannot be found by ear in high grass.',
    tooHigh: 'Empties a nearly flat battery sooner, and warms windings.',
    odd: 'nothing in flight',
    storage: {2: u8(19), 3: u8(27), 5: u8(25), 6: u8(25), 8: u8(36)},
  },
  {
    key: 'lostToneWait',
    name: 'Lost-craft wait',
    aside: 'idle before the tone',
    ...chosen([{value: 0, label: 'off'}, ...[1, 2, 5, 10].map((value) => ({value, label: String(value)}))], 2),
    unit: 'min',
    help: 'Time without throttle after which the lost-craft tone begins.',
    tooLow: 'It sounds while you still talk at the take-off place; off, it never calls.',
    tooHigh: 'You search in silence.',
    odd: 'nothing in flight',
    storage: {2: u8(20), 3: u8(28), 5: u8(26), 6: u8(26), 8: u8(37)},
  },
  {
    key: 'melody',
    name: 'Start-up melody',
    aside: 'after the three tones',
    ...chosen(choicesOf(['silent', 'rising', 'falling', 'of its own']), 0),
    ends: ['Silent', 'With a melody'],
    help: 'Played after power-up, so that you recognise each craft. Your own melody is written on the Spin station, under Sounds.',
    tooLow: 'Only the three tones sound.',
    tooHigh: 'The ESC starts a little later.',
    odd: 'nothing in flight',
    storage: {8: u8(26)},
  },
];

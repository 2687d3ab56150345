/**
 * Makes images of the invented firmware family Meridian. The code in them is noise: what an ESC does follows from the
 * identity block. Pages keep their bytes from one version to the next unless listed as changed, as a linker would do it.
 */
import {chips} from '@core/firmware/chips';
import type {Variant} from '@core/settings/variant';
import type {Image} from '@core/firmware/image';
import {makeImage, type MadeRelease} from './image-maker';

const range = (from: number, to: number) => Array.from({length: to - from + 1}, (_, i) => from + i);

const allPulses: MadeRelease['pulses'] = ['analog', 'oneshot125', 'oneshot42', 'multishot'];
/** From 4.0 on the short pulses are gone. */
const longPulses: MadeRelease['pulses'] = ['analog', 'oneshot125'];
const tone = (hz: number, ms: number) => ({hz, ms});
const tones3: MadeRelease['tones'] = {
  power: [tone(880, 160), tone(1047, 160), tone(1319, 200)],
  signal: [tone(1047, 140), tone(1568, 260)],
};
const tones4: MadeRelease['tones'] = {
  power: [tone(784, 120), tone(988, 120), tone(1175, 120), tone(1568, 220)],
  signal: [tone(1568, 120), tone(1175, 260)],
};

/** Ends of an analog signal by the stick; none of it where the signal is DShot. */
const byStick: MadeRelease['byStick'] = [
  {
    hand: 'Propellers off. Throttle stick to its top end, then connect the battery',
    heard: 'the tones of power, then two long high tones',
  },
  {hand: 'Stick to its lower end within 3 s', heard: 'two long low tones: both ends are kept'},
  {
    hand: 'Leave the stick at the top for 5 s more instead',
    heard: 'one tone for each setting in turn: brake, timing, start-up power',
  },
  {hand: 'Stick down after the tone of a setting', heard: 'as many short tones as the value that is kept'},
];

/** Oldest first. */
export const meridianReleases: readonly MadeRelease[] = [
  {
    version: '3.7',
    layout: 5,
    bootRevision: 2,
    pages: 41,
    features: [],
    standing: 'steady',
    date: '2024-03-02',
    changed: range(0, 41),
    note: 'DShot, active braking.',
    pulses: allPulses,
    byStick,
    tones: tones3,
  },
  {
    version: '3.9',
    layout: 6,
    bootRevision: 2,
    pages: 41,
    features: [],
    standing: 'steady',
    date: '2024-10-19',
    changed: [0, 5, 6, 7, 8, 9, 10, 11, 19, 20, 21, 22, 23, 28, 29, 30, 31, 32, 37],
    note: 'Smoother low throttle.',
    pulses: allPulses,
    byStick,
    tones: tones3,
  },
  {
    version: '4.0',
    layout: 8,
    bootRevision: 3,
    pages: 41,
    features: ['replies'],
    standing: 'withdrawn',
    date: '2025-05-11',
    changed: [0, 1, 12, 13, 24],
    note: 'Withdrawn: current limit ignored after a desync. Use 4.1 or newer.',
    pulses: longPulses,
    byStick,
    tones: tones4,
  },
  {
    version: '4.1',
    layout: 8,
    bootRevision: 3,
    pages: 41,
    features: ['replies'],
    standing: 'steady',
    date: '2025-09-27',
    changed: [0, 9, 10, 25, 33],
    note: 'Bidirectional DShot.',
    pulses: longPulses,
    byStick,
    tones: tones4,
  },
  {
    version: '4.2',
    layout: 8,
    bootRevision: 3,
    pages: 41,
    features: ['replies', 'speed-following-pwm', 'melody'],
    standing: 'steady',
    date: '2026-06-14',
    changed: [0, 2, 14, 15, 16, 26, 34, 35, 38],
    note: 'Bidirectional DShot, speed-following PWM, start-up melody.',
    pulses: longPulses,
    byStick,
    tones: tones4,
  },
  {
    version: '4.3-b1',
    layout: 8,
    bootRevision: 3,
    pages: 42,
    features: ['replies', 'speed-following-pwm', 'melody'],
    standing: 'trial',
    date: '2026-10-30',
    changed: [0, 3, 17, 27, 41],
    note: 'Trial build. Open fault: start-up stutter below 30 °C on M32 boards.',
    pulses: longPulses,
    byStick,
    tones: tones4,
  },
];

/** The image of a release for a board; a heli variant or another board changes the identity page and three more. */
export function meridianImage(version: string, target: {board: string; deadTimeNs: number; variant?: Variant}): Image {
  const index = meridianReleases.findIndex((r) => r.version === version);
  if (index < 0) throw new RangeError(`There is no Meridian ${version}`);
  const {variant = 'multirotor', board, deadTimeNs} = target;
  const special = board === 'Gneiss 45' && variant === 'multirotor' ? 0 : 1 + board.length * 7 + variant.length;
  return makeImage({
    chip: chips.M32,
    start: chips.M32.application.start,
    history: meridianReleases.slice(0, index + 1),
    identity: {family: 'Meridian', variant, board, deadTimeNs},
    flavour: special,
    flavoured: [4, 18, 36],
  });
}

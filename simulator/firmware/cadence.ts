/** Makes images of the invented 8-bit firmware family Cadence: one per PWM frequency, which is built in. */
import {chips} from '@core/firmware/chips';
import type {Variant} from '@core/settings/variant';
import type {Image} from '@core/firmware/image';
import {makeImage, type MadeRelease} from './image-maker';

type PwmBuild = 24 | 48 | 96;
export const pwmBuilds: readonly PwmBuild[] = [24, 48, 96];

const range = (from: number, to: number) => Array.from({length: to - from + 1}, (_, i) => from + i);

const tone = (hz: number, ms: number) => ({hz, ms});
const tones: MadeRelease['tones'] = {
  power: [tone(1319, 90), tone(1568, 90), tone(2093, 140)],
  signal: [tone(1568, 90), tone(2093, 180)],
};

/** Oldest first. */
export const cadenceReleases: readonly MadeRelease[] = [
  {
    version: '1.6',
    layout: 2,
    bootRevision: 1,
    pages: 12,
    features: [],
    standing: 'steady',
    date: '2023-11-18',
    changed: range(0, 12),
    note: 'DShot, no replies.',
    pulses: ['analog', 'oneshot125', 'oneshot42'],
    tones,
  },
  {
    version: '2.0',
    layout: 3,
    bootRevision: 1,
    pages: 13,
    features: ['replies'],
    standing: 'steady',
    date: '2025-02-08',
    changed: [0, 2, 3, 6, 7, 10, 12],
    note: 'Bidirectional DShot up to DShot300.',
    pulses: ['analog', 'oneshot125'],
    tones,
  },
  {
    version: '2.1',
    layout: 3,
    bootRevision: 1,
    pages: 13,
    features: ['replies'],
    standing: 'steady',
    date: '2026-04-25',
    changed: [0, 4, 7, 9],
    note: 'Bidirectional DShot, quicker replies, softer start.',
    pulses: ['analog', 'oneshot125'],
    tones,
  },
];

/** The image of a release for a board and a PWM frequency; another frequency changes the identity page and four more. */
export function cadenceImage(
  version: string,
  pwmKhz: PwmBuild,
  target: {board: string; deadTimeNs: number; variant?: Variant} = {board: 'Chalk 5', deadTimeNs: 300},
): Image {
  const index = cadenceReleases.findIndex((r) => r.version === version);
  if (index < 0) throw new RangeError(`There is no Cadence ${version}`);
  const {variant = 'multirotor', board, deadTimeNs} = target;
  return makeImage({
    chip: chips.K8,
    start: chips.K8.application.start,
    history: cadenceReleases.slice(0, index + 1),
    identity: {family: 'Cadence', variant, board, deadTimeNs, pwmKhz},
    flavour: pwmKhz + (variant === 'multirotor' ? 0 : variant.length * 101),
    flavoured: [1, 5, 8, 11],
  });
}

/** Everything the release service stand-in publishes: boards, and which release is built for which of them. */
import type {Variant} from '@core/settings/variant';
import type {Image} from '@core/firmware/image';
import type {Board, Release} from '@core/firmware/releases';
import {cadenceImage, cadenceReleases, pwmBuilds} from './cadence';
import type {MadeRelease} from './image-maker';
import {meridianImage, meridianReleases} from './meridian';
import {moduleBounds, moduleImage, moduleReleases} from './reply-module';

export const boards: readonly Board[] = [
  {
    name: 'Gneiss 45',
    chip: 'M32',
    deadTimeNs: 45,
    kind: 'four-in-one, 30.5 mm holes',
    silkscreen: 'GN45 r3',
    amps: 45,
    cells: '3–6S',
    features: ['current sensor', 'temperature sensor'],
    defaults: {timing: 22.5, pwm: 48, temperatureLimit: 110, currentLimit: 45},
  },
  {
    name: 'Basalt 30',
    chip: 'M32',
    deadTimeNs: 30,
    kind: 'single ESC, for an arm',
    silkscreen: 'BSL 30A',
    amps: 30,
    cells: '3–6S',
    features: ['temperature sensor', 'status light'],
    lights: [
      {shows: 'green, steady', means: 'its firmware runs and receives the throttle signal'},
      {shows: 'green, once a second', means: 'its firmware runs and waits for the throttle signal'},
      {shows: 'red, steady', means: 'it is in its bootloader'},
      {shows: 'dark', means: 'it has no power'},
    ],
  },
  {
    name: 'Basalt 30 L',
    chip: 'M32',
    deadTimeNs: 60,
    kind: 'single ESC, for an arm, large bridge',
    silkscreen: 'BSL 30L',
    amps: 30,
    cells: '3–8S',
    features: ['temperature sensor'],
  },
  {
    name: 'Schist 40',
    chip: 'M32',
    deadTimeNs: 40,
    kind: 'four-in-one, 20 mm holes',
    silkscreen: 'SCH-40 v1',
    amps: 40,
    cells: '3–6S',
    features: ['current sensor'],
    // No sensor of temperature: a limit would rest on nothing.
    defaults: {temperatureLimit: 0, currentLimit: 40},
  },
  {
    name: 'Chalk 5',
    chip: 'K8',
    deadTimeNs: 300,
    kind: 'all-in-one with flight controller, whoop holes',
    silkscreen: 'CHK5 AIO',
    amps: 5,
    cells: '1S',
    features: [],
  },
];

/** A release to publish, before its file is made. */
export interface PublishedRelease {
  readonly release: Omit<Release, 'sizeBytes' | 'sha256'>;
  readonly image: Image;
}

/** Flight-controller firmware from which replies are heard. */
const needsController = 'Plumb 2.2';
const boardOf = (name: string): Board => boards.find((b) => b.name === name)!;
const target = (name: string) => ({board: name, deadTimeNs: boardOf(name).deadTimeNs});

function published(
  family: string,
  made: MadeRelease,
  where: {board: string; variant: Variant; image: Image} & Pick<Release, 'pwmKhz' | 'base'>,
): PublishedRelease {
  const {board, variant, image, ...more} = where;
  const {version, standing, date, note, features, bootRevision} = made;
  const {chip, deadTimeNs} = boardOf(board);
  const parts = [family, version, board.replaceAll(' ', '-'), variant, more.pwmKhz && `${more.pwmKhz}khz`];
  return {
    image,
    release: {
      id: parts.filter(Boolean).join('_').toLowerCase(),
      family,
      version,
      variant,
      board,
      chip,
      deadTimeNs,
      standing,
      date,
      note,
      features: [...features],
      bootRevision,
      ...(features.includes('replies') && {needsController}),
      ...(made.pulses && {pulses: [...made.pulses]}),
      ...(made.tones && {tones: made.tones}),
      ...(made.byStick && {byStick: made.byStick}),
      ...more,
    },
  };
}

function meridian(version: string, board: string, variant: Variant = 'multirotor'): PublishedRelease {
  const image = meridianImage(version, {...target(board), variant});
  return published(
    'Meridian',
    meridianReleases.find((r) => r.version === version)!,
    {board, variant, image},
  );
}

/** All releases, in the order of the catalogue. */
export function publishedReleases(): PublishedRelease[] {
  return [
    ...meridianReleases.map((r) => meridian(r.version, 'Gneiss 45')),
    meridian('4.2', 'Gneiss 45', 'heli-main'),
    meridian('4.2', 'Gneiss 45', 'heli-tail'),
    ...['3.9', '4.1', '4.2'].map((version) => meridian(version, 'Basalt 30')),
    meridian('4.2', 'Basalt 30 L'),
    ...['3.7', '3.9', '4.2'].map((version) => meridian(version, 'Schist 40')),
    ...moduleReleases.map((made) =>
      published('Meridian', made, {
        board: 'Schist 40',
        variant: 'reply-module',
        base: moduleBounds,
        image: moduleImage(made.version, target('Schist 40')),
      }),
    ),
    ...cadenceReleases.flatMap((made) =>
      pwmBuilds.map((pwmKhz) =>
        published('Cadence', made, {
          board: 'Chalk 5',
          variant: 'multirotor',
          pwmKhz,
          image: cadenceImage(made.version, pwmKhz),
        }),
      ),
    ),
  ];
}

/** Plumb, the invented firmware of the flight controllers: its releases, the boards it is built for, its images. */
import {findControllerChip, controllerVariant} from '@core/controller/firmware/chips';
import type {ControllerBoard, ControllerRelease} from '@core/firmware/controller-releases';
import {identityBytes, writeIdentity} from '@core/firmware/identity';
import {flatten, type Image} from '@core/firmware/image';
import type {ControllerIdentity} from '@core/link/operations';
import {madeNoise} from './made-noise';

const lightsOfSlate: ControllerBoard['lights'] = [
  {shows: 'blue, steady', means: 'it has power from USB or from the battery'},
  {shows: 'green, flashing', means: 'its firmware runs and the craft is disarmed'},
  {shows: 'green, steady', means: 'the craft is armed'},
  {shows: 'blue alone', means: 'it is in its loader: no firmware runs'},
];

export const controllerBoards: readonly ControllerBoard[] = [
  {
    name: 'Slate F',
    chip: 'F7 class',
    silkscreen: 'SLT-F7',
    byHand: 'button',
    at: {x: 0.82, y: 0.3},
    lights: lightsOfSlate,
  },
  {
    name: 'Slate C',
    chip: 'F4 class',
    silkscreen: 'SLT-C4',
    byHand: 'pads',
    at: {x: 0.2, y: 0.72},
    lights: lightsOfSlate,
  },
  {name: 'Chalk 5', chip: 'F1 class', silkscreen: 'CHK5 AIO', byHand: 'pads', at: {x: 0.5, y: 0.16}},
];

type Made = Pick<ControllerRelease, 'version' | 'standing' | 'date' | 'note' | 'features'> & {readonly kib: number};
const made: readonly Made[] = [
  {
    version: '2.0',
    standing: 'steady',
    date: '2024-03-11',
    note: 'Analog pulses and DShot, no replies. ESCs cannot be reached through it.',
    features: [],
    kib: 34,
  },
  {
    version: '2.1',
    standing: 'withdrawn',
    date: '2024-11-20',
    note: 'Withdrawn: it forgot the arming switch after a restart.',
    features: ['pass-through'],
    kib: 36,
  },
  {
    version: '2.2',
    standing: 'steady',
    date: '2025-09-02',
    note: 'Hears replies, notches follow motor speed, ESCs are reached through it.',
    features: ['pass-through', 'replies', 'motor-speed notches'],
    kib: 40,
  },
  {
    version: '2.3-b1',
    standing: 'trial',
    date: '2026-08-18',
    note: 'Trial: raised clock on small boards. Not for a craft that has to fly.',
    features: ['pass-through', 'replies', 'motor-speed notches'],
    kib: 41,
  },
];

/** The application of a flight controller: identity block and noise that differs from version to version. */
export function plumbImage(version: string, boardName: string): Image {
  const board = controllerBoards.find((b) => b.name === boardName);
  const release = made.find((r) => r.version === version);
  const chip = board && findControllerChip(board.chip);
  if (!board || !release || !chip) throw new RangeError(`There is no Plumb ${version} for ${boardName}`);
  const body = madeNoise(Number.parseFloat(version) * 1000 + boardName.length, release.kib * 1024 - identityBytes);
  const identity = {
    ...{family: 'Plumb', version, variant: controllerVariant, board: board.name, chip: board.chip},
    ...{deadTimeNs: 0, layoutRevision: 0, bootRevision: 1, features: []},
  };
  const block = writeIdentity(identity, body);
  const bytes = new Uint8Array(block.length + body.length);
  bytes.set(block);
  bytes.set(body, block.length);
  return {segments: [{start: chip.application.start, bytes}]};
}

interface PublishedControllerRelease {
  readonly release: Omit<ControllerRelease, 'sizeBytes' | 'sha256'>;
  readonly image: Image;
}

/** All releases for all boards; the small board has no room for receivers on pulses. */
export function publishedControllerReleases(): PublishedControllerRelease[] {
  return controllerBoards.flatMap((board) =>
    made.map(({kib: _kib, ...release}) => ({
      image: plumbImage(release.version, board.name),
      release: {
        ...release,
        id: `plumb_${release.version}_${board.name.replaceAll(' ', '-')}`.toLowerCase(),
        family: 'Plumb',
        board: board.name,
        chip: board.chip,
        receivers:
          board.chip === 'F1 class'
            ? (['serial', 'inverted serial'] as const).slice()
            : (['serial', 'inverted serial', 'pulse train', 'parallel pulses'] as const).slice(),
      },
    })),
  );
}

/**
 * A flight controller as it comes: its board, the version it runs, and the application of that version in its flash.
 * @param serial burnt into its processor.
 */
export function withPlumb(
  board: string,
  version: string,
  {clockMhz, serial, logBytes}: Pick<ControllerIdentity, 'clockMhz' | 'serial' | 'logBytes'>,
) {
  const {chip} = controllerBoards.find((b) => b.name === board)!;
  const identity: ControllerIdentity = {
    board,
    chip,
    clockMhz,
    firmware: 'Plumb',
    version,
    ...(serial !== undefined && {serial}),
    ...(logBytes !== undefined && {logBytes}),
  };
  const application = flatten(plumbImage(version, board), findControllerChip(chip)!.application);
  return {identity, loader: {application, isActive: false}};
}

/** Makes reply modules for Meridian: an add-on image in its own region that lets 3.8 and 3.9 answer bidirectional DShot. */
import {chips} from '@core/firmware/chips';
import type {Image} from '@core/firmware/image';
import {makeImage, type MadeRelease} from './image-maker';

const range = (from: number, to: number) => Array.from({length: to - from + 1}, (_, i) => from + i);
export const moduleBounds = {lowest: '3.8', highest: '3.9'} as const;

/** Oldest first. */
export const moduleReleases: readonly MadeRelease[] = [
  {
    version: '1.0',
    layout: 6,
    bootRevision: 2,
    pages: 4,
    features: ['replies'],
    standing: 'withdrawn',
    date: '2025-06-02',
    changed: range(0, 4),
    note: 'Withdrawn: loses replies when all motors spin up. Use 1.1.',
  },
  {
    version: '1.1',
    layout: 6,
    bootRevision: 2,
    pages: 5,
    features: ['replies'],
    standing: 'steady',
    date: '2025-07-21',
    changed: [0, 2, 4],
    note: 'Replies for boards whose bootloader is too old for Meridian 4.',
  },
];

export function moduleImage(version: string, {board, deadTimeNs}: {board: string; deadTimeNs: number}): Image {
  const index = moduleReleases.findIndex((r) => r.version === version);
  if (index < 0) throw new RangeError(`There is no reply module ${version}`);
  return makeImage({
    chip: chips.M32,
    start: chips.M32.module!.start,
    history: moduleReleases.slice(0, index + 1),
    identity: {family: 'Meridian', variant: 'reply-module', board, deadTimeNs, base: moduleBounds},
    flavour: 500 + board.length,
    flavoured: [0, 1, 2, 3, 4],
  });
}

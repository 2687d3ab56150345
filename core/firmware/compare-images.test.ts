import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import {meridianImage} from '@simulator/firmware/meridian';
import {compareImages, differingPages, differingRows, hexRow} from './compare-images';
import type {Image} from './image';
import {writeRaw} from './formats/raw-bytes';
import {readImage} from './formats/read-image';

const of = (...segments: [number, ...number[]][]): Image => ({
  segments: segments.map(([start, ...bytes]) => ({start, bytes: Uint8Array.from(bytes)})),
});

describe('the difference of two images', () => {
  it('names runs of bytes that are not the same or that only one tells', () => {
    const difference = compareImages(of([0x10, 1, 2, 3], [0x20, 9]), of([0x11, 2, 4, 5], [0x20, 9]));
    expect(difference).toEqual({
      equal: false,
      differingBytes: 3,
      runs: [
        {start: 0x10, length: 1},
        {start: 0x12, length: 2},
      ],
    });
    expect(compareImages(of([5, 1]), of([5, 1])).equal).toBe(true);
    expect(compareImages(of(), of()).equal).toBe(true);
  });

  it('agrees with a slow way that asks every address', () => {
    const image = fc
      .array(fc.tuple(fc.nat({max: 60}), fc.uint8Array({minLength: 1, maxLength: 6})), {maxLength: 4})
      .map((list): Image => {
        const bytes = new Map<number, number>();
        for (const [start, run] of list) run.forEach((b, i) => bytes.set(start + i, b & 1));
        return of(...[...bytes].sort((a, b) => a[0] - b[0]).map(([at, b]): [number, number] => [at, b]));
      });
    const slow = (i: Image, at: number) => i.segments.find((s) => s.start === at)?.bytes[0];
    fc.assert(
      fc.property(image, image, (a, b) => {
        const wrong = Array.from({length: 80}, (_, at) => at).filter((at) => slow(a, at) !== slow(b, at));
        const told = compareImages(a, b).runs.flatMap((r) => Array.from({length: r.length}, (_, i) => r.start + i));
        expect(told).toEqual(wrong);
      }),
      {seed: 3, numRuns: 400},
    );
  });

  it('of Meridian 3.9 and 4.2 lies in 17 pages', () => {
    const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};
    const difference = compareImages(meridianImage('3.9', gneiss), meridianImage('4.2', gneiss));
    expect(differingPages(difference, 1024)).toHaveLength(17);
    expect(differingRows(difference, 100)).toHaveLength(100);
  });

  it('shows rows of sixteen bytes with gaps', () => {
    const [a, b] = [of([0x11, 0xaa]), of([0x12, 0xbb])];
    expect(differingRows(compareImages(a, b), 10)).toEqual([0x10]);
    const {left, right} = hexRow(a, b, 0x10);
    expect([left.slice(0, 3), right.slice(0, 3), left.length]).toEqual([[null, 0xaa, null], [null, null, 0xbb], 16]);
  });
});

describe('raw bytes', () => {
  it('come back as they were, with the base address told', () => {
    const image = of([0x1000, 1, 2], [0x1004, 3]);
    const written = writeRaw(image);
    if (!written.ok) throw new Error(written.problem.meaning);
    expect(written.value).toEqual({base: 0x1000, bytes: Uint8Array.of(1, 2, 0xff, 0xff, 3)});
    const read = readImage(written.value.bytes, written.value.base);
    expect(read.ok && read.value.image.segments[0]).toEqual({start: 0x1000, bytes: written.value.bytes});
  });
  it('are not written for segments that lie too far apart, or for nothing', () => {
    const far = writeRaw(of([0, 1], [0xf000_0000, 1]));
    expect(!far.ok && far.problem).toMatchObject({code: 'not-raw', place: '00000000 to F0000000'});
    expect(writeRaw(of()).ok).toBe(false);
  });
});

/** Intel HEX against srec_cat (fixtures/make-images.sh) and nrf-intel-hex. */
import {readFileSync} from 'node:fs';
import * as fc from 'fast-check';
import MemoryMap from 'nrf-intel-hex';
import {describe, expect, it} from 'vitest';
import {crc32} from '../../checksums';
import {flatten, type Image} from '../image';
import {readIntelHex, writeIntelHex} from './intel-hex';

const fixture = (name: string) => readFileSync(new URL(`../../fixtures/${name}`, import.meta.url), 'latin1');

describe('files of srec_cat', () => {
  it('linear addresses, a gap, and bytes at 0xFFFF0000', () => {
    const {image, faults} = readIntelHex(fixture('linear.hex'));
    expect(faults).toEqual([]);
    expect(image.segments.map((s) => [s.start, s.bytes.length])).toEqual([
      [0x100, 0x80],
      [0xfff0, 0x20],
      [0xffff0000, 8],
    ]);
    expect([...image.segments[0]!.bytes.subarray(0, 4)]).toEqual([0xde, 0xad, 0xbe, 0xef]);
  });

  it('the CRC-32 of the filled image is the one srec_cat computes', () => {
    const {image} = readIntelHex(fixture('linear.hex'));
    const stated = fixture('linear.crc').slice(10, 21).replaceAll(' ', '');
    expect(
      crc32(flatten(image, {start: 0x100, end: 0x10010}))
        .toString(16)
        .toUpperCase(),
    ).toBe(stated);
  });

  it('segment addresses', () => {
    const {image, faults} = readIntelHex(fixture('segment.hex'));
    expect(faults).toEqual([]);
    expect(image.segments.map((s) => [s.start, s.bytes.length])).toEqual([[0x1fff0, 0x30]]);
  });
});

describe('against nrf-intel-hex', () => {
  const anyImage = fc
    .array(
      fc.record({
        gap: fc.integer({min: 1, max: 70_000}),
        bytes: fc.uint8Array({minLength: 1, maxLength: 300}),
      }),
      {minLength: 1, maxLength: 6},
    )
    .map((parts): Image => {
      let at = 0;
      return {
        segments: parts.map(({gap, bytes}) => {
          const start = at + gap;
          at = start + bytes.length;
          return {start, bytes};
        }),
      };
    });

  it('both read what either writes', () => {
    fc.assert(
      fc.property(anyImage, (image) => {
        const ours = readIntelHex(writeIntelHex(image));
        expect(ours).toEqual({image, faults: [], notes: []});
        const theirs = MemoryMap.fromHex(writeIntelHex(image));
        expect([...theirs.join()].map(([start, bytes]) => ({start, bytes: new Uint8Array(bytes)}))).toEqual(
          image.segments.map((s) => ({start: s.start, bytes: new Uint8Array(s.bytes)})),
        );
        expect(readIntelHex(theirs.asHexString()).image.segments).toEqual(image.segments);
      }),
      {seed: 11, numRuns: 60},
    );
  });
});

describe('faults', () => {
  const end = '\n:00000001FF\n';
  it.each([
    [':0400000001020304F2' + '\n:00000001FF', []],
    [':0400000001020304F3' + end, [[1, 'bad-checksum', 'Checksum F3, computed F2. The file is damaged.']]],
    [':0400000001020304F2', [[1, 'missing-end', 'No end record. The file is cut off.']]],
    [':04000000010203F2' + end, [[1, 'bad-length', 'The record announces 4 bytes and carries 3.']]],
    [':0400000001020G04F2' + end, [[1, 'bad-character', '"G" is not a hexadecimal digit.']]],
    ['S0030000FC' + end, [[1, 'bad-character', 'A record starts with ":", found "S".']]],
    [':00000009F7' + end, [[1, 'unknown-record', 'Record type 09 is not part of Intel HEX.']]],
    [
      ':0100000001FE\n:0100000002FD' + end,
      [[2, 'conflicting-overlap', 'Address 00000000 is given twice with different bytes.']],
    ],
    [':0100000001FE\n:0100000001FE' + end, []],
    [
      ':00000001FF\n:0100000001FE',
      [[2, 'data-after-end', 'A record follows the end record. The file was joined or cut.']],
    ],
    [':02000004FFFFFC\n:02FFFF000102FD' + end, [[2, 'out-of-range', 'Address FFFFFFFF is beyond 32 bits.']]],
    [':0100000401FA' + end, [[1, 'bad-length', 'an address record carries 2 bytes, this one 1.']]],
  ])('%#', (text, faults) => {
    expect(readIntelHex(text).faults.map((f) => [f.line, f.kind, f.text])).toEqual(faults);
  });

  it('name the column of a wrong character', () => {
    expect(readIntelHex(':04x' + end).faults[0]).toMatchObject({line: 1, column: 4, kind: 'bad-character'});
  });

  it('CRLF, lower case, blank lines and any record order are no faults', () => {
    const {image, faults} = readIntelHex(':01001000aa45\r\n\r\n:01000000bb44\r\n:00000001ff\r\n\r\n');
    expect(faults).toEqual([]);
    expect(image.segments.map((s) => [s.start, ...s.bytes])).toEqual([
      [0, 0xbb],
      [16, 0xaa],
    ]);
  });

  it('never throws, whatever a file holds', () => {
    const good = fixture('linear.hex');
    fc.assert(
      fc.property(fc.nat(good.length - 1), fc.string({unit: 'binary', maxLength: 4}), fc.boolean(), (at, junk, cut) => {
        const {image, faults} = readIntelHex(
          cut ? good.slice(0, at) + junk : good.slice(0, at) + junk + good.slice(at + 1),
        );
        expect(Array.isArray(faults)).toBe(true);
        expect(image.segments.reduce((sum, s) => sum + s.bytes.length, 0)).toBeLessThan(1000);
      }),
      {seed: 12, numRuns: 1500},
    );
  });
});

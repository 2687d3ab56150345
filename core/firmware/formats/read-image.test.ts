/** All image formats against srec_cat and objcopy (fixtures/make-images.sh) and the block layout of the UF2 specification. */
import {readFileSync} from 'node:fs';
import * as fc from 'fast-check';
import {describe, expect, it} from 'vitest';
import type {Image, ImageReading} from '../image';
import {readIntelHex, writeIntelHex} from './intel-hex';
import {formatOf, readImage} from './read-image';
import {readSRecord} from './s-record';
import {maxFaults} from './pieces';
import {readUf2} from './uf2';

const fixture = (name: string) => new Uint8Array(readFileSync(new URL(`../../fixtures/${name}`, import.meta.url)));
const read = (file: Uint8Array, base?: number) => {
  const reading = readImage(file, base);
  if (!reading.ok) throw new Error(reading.problem.meaning);
  return reading.value;
};
const shape = ({image}: {image: Image}) => image.segments.map((s) => [s.start, s.bytes.length]);
const kinds = ({faults}: Pick<ImageReading, 'faults'>) => faults.map((f) => [f.line, f.kind]);
const latin1 = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

describe('S-record files of srec_cat and objcopy', () => {
  it.each([
    ['two.s19', [[0x100, 0x40]]],
    ['three.s28', [[0x20100, 0x40]]],
    [
      'four.s37',
      [
        [0x100, 0x80],
        [0xfff0, 0x20],
        [0xffff0000, 8],
      ],
    ],
    ['objcopy.s37', [[0x8000000, 6]]],
  ])('%s', (name, segments) => {
    const reading = read(fixture(name));
    expect([reading.format, reading.faults, shape(reading)]).toEqual(['s-record', [], segments]);
  });

  it('hold the same bytes as the Intel HEX they were made from', () => {
    expect(read(fixture('four.s37')).image).toEqual(read(fixture('linear.hex')).image);
    expect(read(fixture('objcopy.s37')).image).toEqual(read(fixture('objcopy.hex')).image);
    expect(read(fixture('raw.bin'), 0x8000000).image).toEqual(read(fixture('objcopy.hex')).image);
  });
});

describe('faults of S-records', () => {
  const good = 'S1050100AABB94';
  const end = '\nS9030000FC';
  it.each([
    ['a good file', good + end, []],
    ['lower case and CRLF', good.toLowerCase() + '\r\n\r\nS9030000FC\r\n', []],
    ['a wrong checksum', 'S1050100AABB95' + end, [[1, 'bad-checksum']]],
    ['a wrong length', 'S1060100AABB94' + end, [[1, 'bad-length']]],
    ['an odd digit', 'S1050100AABB9' + end, [[1, 'bad-length']]],
    ['a wrong character', 'S1050100AXBB94' + end, [[1, 'bad-character']]],
    ['another start', ':1050100AABB94' + end, [[1, 'bad-character']]],
    ['a reserved type', 'S4050100AABB94' + end, [[1, 'unknown-record']]],
    ['no end', good, [[1, 'missing-end']]],
    ['no end, but the right count (as srec_cat writes it)', good + '\nS5030001FB', []],
    ['data after the end', good + end + '\n' + good, [[3, 'data-after-end']]],
    ['lost lines', good + '\nS5030002FA' + end, [[2, 'bad-length']]],
    ['a conflict', good + '\nS1050100AACC83' + end, [[2, 'conflicting-overlap']]],
    ['a record of two characters', 'S1' + end, [[1, 'bad-length']]],
    ['beyond 32 bits', 'S307FFFFFFFF0102F9' + '\nS70500000000FA', [[1, 'out-of-range']]],
  ])('%s', (_, text, faults) => expect(kinds(readSRecord(text))).toEqual(faults));

  it('a repetition with the same bytes is a note', () => {
    const {faults, notes} = readSRecord(good + '\n' + good + end);
    expect([faults, notes]).toEqual([[], [{line: 2, text: 'Address 00000100 is given twice with the same bytes.'}]]);
  });

  it('names the column of a wrong character', () => {
    expect(readSRecord('S1050100AXBB94' + end).faults[0]).toMatchObject({
      column: 10,
      text: '"X" is not a hexadecimal digit.',
    });
  });
});

/** One block as the specification lays it out. */
function block(
  over: {
    at?: number;
    payload?: number[];
    number?: number;
    count?: number;
    flags?: number;
    family?: number;
    size?: number;
  } = {},
): Uint8Array {
  const {at = 0x2000, payload = [1, 2, 3, 4], number = 0, count = 1, flags = 0, family = 0} = over;
  const bytes = new Uint8Array(512);
  const view = new DataView(bytes.buffer);
  [0x0a324655, 0x9e5d5157, flags, at, over.size ?? payload.length, number, count, family].forEach((word, i) =>
    view.setUint32(4 * i, word, true),
  );
  bytes.set(payload, 32);
  view.setUint32(508, 0x0ab16f30, true);
  return bytes;
}
const file = (...blocks: Uint8Array[]) => Uint8Array.from(blocks.flatMap((b) => [...b]));

describe('UF2', () => {
  it('joins blocks in any order and lists families', () => {
    const blocks = file(
      block({
        at: 0x2100,
        payload: Array(256).fill(7) as number[],
        number: 1,
        count: 2,
        flags: 0x2000,
        family: 0xe48bff56,
      }),
      block({payload: Array(256).fill(6) as number[], count: 2, flags: 0x2000, family: 0xe48bff56}),
    );
    const reading = readUf2(blocks);
    expect([reading.faults, shape(reading), reading.families]).toEqual([[], [[0x2000, 512]], [0xe48bff56]]);
  });

  it('a block that its neighbour took the place of is a fault, not a note', () => {
    const blocks = [0, 1, 2, 3].map((number) =>
      block({number, count: 4, at: 0x2000 + number * 256, payload: Array(256).fill(number) as number[]}),
    );
    expect(readUf2(file(...blocks)).faults).toEqual([]);
    const reading = readUf2(file(blocks[0]!, blocks[2]!, blocks[2]!, blocks[3]!));
    expect(reading.faults.map((f) => f.text)).toEqual([
      'Block 1 of 4 is missing. The file is damaged.',
      'Block 2 comes 2 times, first at 1. Another one was overwritten by it.',
    ]);
  });

  it('begins with "UF2" and a line feed, as its specification says', () =>
    expect(String.fromCharCode(...block().subarray(0, 4))).toBe('UF2\n'));

  it('leaves out blocks that are not for flash', () => {
    expect(shape(readUf2(file(block({flags: 1, count: 2}), block({number: 1, count: 2, at: 0x3000}))))).toEqual([
      [0x3000, 4],
    ]);
  });

  it('several families in one file are a note', () => {
    const {notes} = readUf2(
      file(
        block({flags: 0x2000, family: 1, count: 2}),
        block({flags: 0x2000, family: 2, number: 1, count: 2, at: 0x3000}),
      ),
    );
    expect(notes[0]!.text).toBe('Blocks for 2 families: 0x00000001, 0x00000002.');
  });

  const damaged = block({number: 1, count: 2, at: 0x3000});
  damaged[508] = 0;
  it.each([
    ['a damaged block', file(block({count: 2}), damaged), [[1, 'bad-block']]],
    ['a number beyond the count', file(block({number: 3, count: 2}), block({number: 1, count: 2})), [[0, 'bad-block']]],
    ['a count that changes', file(block({count: 2}), block({number: 1, count: 9, at: 0x3000})), [[1, 'bad-block']]],
    ['too much payload', file(block({size: 477})), [[0, 'bad-length']]],
    ['a cut block', file(block()).subarray(0, 500), [[0, 'bad-length']]],
    ['missing blocks', file(block({count: 3})), [[1, 'missing-end']]],
    [
      'a conflict',
      file(block({count: 2}), block({number: 1, count: 2, payload: [9, 9]})),
      [[1, 'conflicting-overlap']],
    ],
    ['beyond 32 bits', file(block({at: 0xfffffffe})), [[0, 'out-of-range']]],
  ])('%s', (_, bytes, faults) => expect(kinds(readUf2(bytes))).toEqual(faults));
});

describe('a file that is broken throughout', () => {
  it('lists a thousand faults and counts the rest, in bounded time', () => {
    const began = performance.now();
    const {faults} = readIntelHex('x\n'.repeat(300_000));
    expect(faults).toHaveLength(maxFaults + 1);
    expect(faults.at(-1)).toMatchObject({
      kind: 'more-faults',
      text: '299,001 more faults are not listed, the last near here.',
    });
    expect(performance.now() - began).toBeLessThan(5_000);
  });

  it('a file told twice lists a thousand notes', () => {
    const line = ':0100000000FF\n';
    expect(readIntelHex(line.repeat(5_000) + ':00000001FF').notes).toHaveLength(maxFaults);
  });
});

describe('any file', () => {
  it.each([
    ['uf2', block()],
    ['intel-hex', latin1('\r\n:00000001FF')],
    ['s-record', latin1('S9030000FC')],
    ['bin', latin1('Some text')],
    ['bin', new Uint8Array(0)],
  ] as const)('is told by its first bytes: %s', (format, bytes) => expect(formatOf(bytes)).toBe(format));

  it('an empty file is called empty, one of records without a byte is refused, one with faults is told by them', () => {
    const codeOf = (text: string, base?: number) => {
      const reading = readImage(latin1(text), base);
      return reading.ok ? kinds(reading.value) : reading.problem.code;
    };
    expect([codeOf(''), codeOf('', 0x1000)]).toEqual(['empty-file', 'empty-file']);
    for (const text of [
      ':00000001FF\n',
      ':020000040000FA\n:00000001FF\n',
      'S00600004844521B\nS9030000FC\n',
      'S5030000FC\nS9030000FC\n',
    ])
      expect(codeOf(text), text).toBe('no-data');
    expect(codeOf(':00000001FE\n')).toEqual(expect.arrayContaining([[1, 'bad-checksum']]));
    // A UF2 file of blocks that are not for flash.
    const block = new Uint8Array(512);
    const view = new DataView(block.buffer);
    [0x0a324655, 0x9e5d5157, 1, 0x1000, 256, 0, 1, 0].forEach((word, i) => view.setUint32(4 * i, word, true));
    view.setUint32(508, 0x0ab16f30, true);
    const uf2 = readImage(block);
    expect(uf2.ok ? 'read' : uf2.problem.code).toBe('no-data');
  });

  it('raw bytes want a base address, other formats refuse one', () => {
    const [raw, based] = [readImage(Uint8Array.of(1, 2)), readImage(latin1(':00000001FF'), 0)];
    expect([raw.ok || raw.problem.code, based.ok || based.problem.code]).toEqual(['base-missing', 'base-not-used']);
    expect(shape(read(Uint8Array.of(1, 2), 0x1000))).toEqual([[0x1000, 2]]);
    expect(kinds(read(Uint8Array.of(1, 2), 0xffffffff))).toEqual([[1, 'out-of-range']]);
  });

  it('never throws and stays small, whatever happened to it', () => {
    const seeds = [
      fixture('linear.hex'),
      fixture('four.s37'),
      fixture('two.s19'),
      file(block({count: 2}), block({number: 1, count: 2})),
      latin1(writeIntelHex({segments: [{start: 5, bytes: new Uint8Array(40)}]})),
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...seeds),
        fc.nat(),
        fc.uint8Array({maxLength: 6}),
        fc.nat({max: 5}),
        (seed, at, junk, dropped) => {
          const place = at % seed.length;
          const mutated = Uint8Array.from([...seed.subarray(0, place), ...junk, ...seed.subarray(place + dropped)]);
          const reading = readImage(mutated, formatOf(mutated) === 'bin' ? 0x1000 : undefined);
          if (!reading.ok) throw new Error(reading.problem.meaning);
          expect(reading.value.image.segments.reduce((sum, s) => sum + s.bytes.length, 0)).toBeLessThan(
            mutated.length + 1,
          );
        },
      ),
      {seed: 61, numRuns: 4000},
    );
  });
});

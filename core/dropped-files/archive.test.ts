/** An archive made by Python's zipfile (core/fixtures/archives) is the outside check; bombs and damage are refused. */
import {readFileSync} from 'node:fs';
import {strToU8, zipSync} from 'fflate';
import {describe, expect, it} from 'vitest';
import {openArchive} from './archive';

const namesIn = (zip: Uint8Array) => {
  const read = openArchive('a.zip', zip);
  if (!read.ok) throw new Error(read.problem.meaning);
  return read.value?.map((f) => f.name);
};

describe('an archive', () => {
  it('of another program opens, packed and stored, with folders and a comment', () => {
    const read = openArchive('a.zip', readFileSync('core/fixtures/archives/made-elsewhere.zip'));
    expect(read.ok && read.value?.map(({name, bytes}) => [name, bytes.length])).toEqual([
      ['fw.hex', 6000],
      ['readme.txt', 5],
    ]);
  });

  it('that is a backup is none', () => {
    expect(namesIn(zipSync({'bidex.json': strToU8('{}'), 'crafts.json': strToU8('[]')}))).toBeUndefined();
  });

  it('that is cut off, that is no zip, or that would fill the memory is refused with a way out', () => {
    const zip = zipSync({'a.bin': new Uint8Array(100_000)});
    for (const bad of [zip.subarray(0, zip.length - 9), strToU8('PK\u0003\u0004 and nothing more')]) {
      const read = openArchive('a.zip', bad);
      expect(!read.ok && read.problem).toMatchObject({
        code: 'bad-archive',
        place: 'a.zip',
        remedy: expect.stringContaining('Unpack it'),
      });
    }
    const many = zipSync(Object.fromEntries(Array.from({length: 600}, (_, i) => [`${i}.bin`, Uint8Array.of(i)])));
    expect(() => namesIn(many)).toThrow('too much');
  });

  it('whose size is a lie does not unpack', () => {
    const zip = zipSync({'a.bin': new Uint8Array(50_000).map((_, i) => i % 251)});
    const view = new DataView(zip.buffer);
    // The size in the directory: the entry's offset stands in the end record.
    const directory = view.getUint32(zip.length - 6, true);
    view.setUint32(directory + 24, 100, true);
    const read = openArchive('a.zip', zip);
    expect(read.ok && read.value?.[0]?.bytes.length === 50_000).toBe(false);
  });
});

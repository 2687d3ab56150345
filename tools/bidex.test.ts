import {mkdtempSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';
import {describe, expect, it} from 'vitest';
import {main} from './bidex';

const at = (path: string) => fileURLToPath(new URL(`../${path}`, import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'bidex-'));
const write = (name: string, text: string) => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};

describe('bidex image', () => {
  it('tells segments, digests and identity of a release', () => {
    const {output, exitCode} = main(['image', at('demo/releases/meridian_4.2_gneiss-45_multirotor.hex')]);
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      segments: [{start: 0x1000, length: 41_984}],
      identity: {family: 'Meridian', version: '4.2'},
      faults: [],
    });
  });
  it('the CRC-32 with gaps as 0xFF is the one srec_cat computed', () => {
    const file = write(
      'low.hex',
      ':020000040000FA\n:0201000011225A\n:02010400334482\n:00000001FF\n'.replace('5A', 'CA'),
    );
    // CRC-32 of 11 22 FF FF 33 44, from Python's zlib.crc32.
    expect(main(['image', file]).output).toMatchObject({length: 6, crc32: '270ede5c'});
  });
  it('a damaged file ends with its faults and a code', () => {
    const {output, exitCode} = main(['image', write('bad.hex', ':0400000001020304F3\n')]);
    expect(exitCode).toBe(1);
    expect(output).toMatchObject({
      faults: [{line: 1, kind: 'bad-checksum'}, {kind: 'missing-end'}],
      error: {code: 'image-faults'},
    });
  });
});

describe('bidex noise', () => {
  it('tells rate, spectra at asked frequencies, peaks and the speed ratio', () => {
    const {output, exitCode} = main([
      'noise',
      at('demo/logs/juniper-before.csv'),
      '--poles',
      '14',
      '--at',
      '50,212',
      '--axis',
      'roll',
    ]);
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      sampleRateHz: 2000,
      motors: 4,
      spectra: {roll: {at: [{hz: 50}, {hz: 212}], peaks: expect.any(Array)}},
      speedRatio: {fittingPoles: 14},
    });
  });
  it.each([
    [['noise', 'x.csv'], 'file'],
    [['noise', at('package.json'), '--poles', '14'], 'flight-log'],
    [['noise', at('package.json'), '--poles', '13'], 'poles'],
    [['noise', at('demo/logs/juniper-before.csv'), '--poles', '14', '--at', '5000'], 'at'],
    [['image', at('package.json'), '--poles', '14'], 'usage'],
    [['something'], 'usage'],
    [[], 'usage'],
  ])('%j ends with error %s', (args, code) => {
    const {output, exitCode} = main(args);
    expect([exitCode, (output as {error: {code: string}}).error.code]).toEqual([1, code]);
  });
});

import {mkdtempSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';
import {describe, expect, it} from 'vitest';
import type {AddressInfo} from 'node:net';
import {main, mainBench, mainCheck} from './bidex';
import {serveBench} from './serve-bench';

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

describe('bidex image, other formats', () => {
  const raw = write('raw.dat', 'raw bytes');
  it('reads raw bytes at a base, and says when it needs one', () => {
    expect(main(['image', raw, '--base', '0x1000']).output).toMatchObject({
      format: 'bin',
      segments: [{start: 0x1000, length: 9}],
    });
    expect(main(['image', raw])).toMatchObject({exitCode: 1, output: {error: {code: 'base-missing'}}});
    expect(main(['image', raw, '--base', 'here'])).toMatchObject({exitCode: 1, output: {error: {code: 'base'}}});
  });
  it('compares two images byte by byte', () => {
    const a = write('a.s19', 'S1050100AABB94\nS9030000FC\n');
    const b = write('b.s19', 'S1050100AACC83\nS1040103112D\nS9030000FC\n'.replace('112D', '11E6'));
    expect(main(['image', a, '--against', a]).output).toMatchObject({
      format: 's-record',
      against: {equal: true, differingBytes: 0},
    });
    expect(main(['image', a, '--against', b]).output).toMatchObject({
      against: {
        equal: false,
        differingBytes: 2,
        runs: [
          {start: 0x101, length: 1},
          {start: 0x103, length: 1},
        ],
      },
    });
  });
  it('the image a second release is compared with shows what an update changes', () => {
    const [older, newer] = ['4.1', '4.2'].map((v) => at(`demo/releases/meridian_${v}_gneiss-45_multirotor.hex`));
    expect(main(['image', newer!, '--against', older!]).output).toMatchObject({against: {equal: false, faults: []}});
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

describe('bidex check-adapter', () => {
  it('answers in JSON with every rule, and with a code when one is broken', async () => {
    const server = await serveBench({craft: 'juniper', port: 0, fault: 'speaks-any-version'});
    const {port} = server.address() as AddressInfo;
    const {output, exitCode} = await mainCheck(['--connect', `127.0.0.1:${port}`, '--json']);
    server.close();
    expect(exitCode).toBe(1);
    expect(output).toMatchObject({adapter: 'Simulated bench', road: 'controller', broken: 1, notTried: 1});
    expect((output as {rules: {id: string; result: string}[]}).rules.filter((r) => r.result === 'broken')).toEqual([
      expect.objectContaining({id: 'hello-version', detail: expect.stringContaining('link-version')}),
    ]);
  }, 30_000);

  it('says that nobody is there, and what it takes', async () => {
    expect(await mainCheck(['--connect', '127.0.0.1:1'])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'connect', message: expect.stringContaining('127.0.0.1:1')}},
    });
    for (const args of [[], ['--connect', 'nowhere'], ['--connect', 'a:99999'], ['--colour', 'green']])
      expect(await mainCheck(args)).toMatchObject({exitCode: 1, output: {error: {code: 'usage'}}});
  });

  it.each([
    [['--craft', 'nobody', '--listen', '0']],
    [['--craft', 'juniper']],
    [['--craft', 'juniper', '--listen', '70000']],
    [['--craft', 'juniper', '--listen', '0', '--fault', 'sings']],
  ])('a bench of %j is refused with the faults there are', async (args) => {
    expect(await mainBench(args)).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'usage', message: expect.stringContaining('answers-late')}},
    });
  });
});

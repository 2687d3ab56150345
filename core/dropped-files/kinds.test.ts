/** Files of every kind that Bidex opens, as our own code and other programs write them, and files that are none. */
import {readFileSync} from 'node:fs';
import {gunzipSync, gzipSync} from 'node:zlib';
import {describe, expect, it} from 'vitest';
import {meridianImage} from '@simulator/firmware/meridian';
import {writeIntelHex} from '../firmware/formats/intel-hex';
import {spinTraceCsv} from '../motion/write-trace';
import {headBytes, kindsOfFile, type FileKind} from './kinds';

const text = (name: string, content: string) => kindsOfFile({name, bytes: new TextEncoder().encode(content)});
const log = (path: string) => kindsOfFile({name: path, bytes: gunzipSync(readFileSync(path)).subarray(0, headBytes)});
const rows = (n: number, row: (i: number) => string) => Array.from({length: n}, (_, i) => row(i)).join('\n');

describe('a dropped file is known by what is in it', () => {
  it.each<[string, string, () => string, FileKind]>([
    [
      'an Intel HEX image',
      'a.txt',
      () => writeIntelHex(meridianImage('4.1', {board: 'Gneiss 45', deadTimeNs: 45})),
      'image',
    ],
    ['an S-record image', 'a', () => 'S00600004844521B\nS1137AF00A0A0D00\n', 'image'],
    ['a value change dump', 'a.csv', () => '\n$date today $end\n$timescale 1 ns $end\n', 'capture'],
    ['an edge list', 'a.txt', () => `Time [s],m1,m2\n${rows(20, (i) => `${i / 1e6},${i % 2},0`)}`, 'capture'],
    ['samples without a header', 'a.csv', () => rows(20, (i) => `${i / 1e6};${i % 2};x`), 'capture'],
    ['a flight log', 'a.csv', () => `time,gyroX,gyroY,gyroZ\n${rows(20, (i) => `${i},1.5,2.5,0`)}`, 'flight log'],
    [
      'a flight log behind lines about the flight',
      'a.csv',
      () => `"craft","x"\n"board","y"\n"time","gyro[0]","gyro[1]","gyro[2]"\n${rows(9, (i) => `${i},1,2,3`)}`,
      'flight log',
    ],
    [
      'a spin trace',
      'a.csv',
      () =>
        spinTraceCsv({
          timeS: Float64Array.of(0, 0.01),
          volts: Float64Array.of(24, 24),
          motors: [{throttle: Float64Array.of(0, 0.1), rpm: Float64Array.of(0, 900)}],
          poles: 14,
        } as never),
      'trace',
    ],
    ['a snapshot', 'a.txt', () => '{"format": "bidex-snapshot"}', 'snapshot'],
    ['a controller text', 'a.csv', () => '# kept\n\n[motors]\nprotocol = "dshot300"\n', 'controller text'],
    ['a controller text without a table', 'a', () => 'craft.name = "x"', 'controller text'],
    ['a melody', 'a.txt', () => 'rise:d=8,o=5,b=180:c,e,g,4c6', 'melody'],
  ])('%s', (_, name, content, kind) => {
    expect(text(name, content())).toEqual([kind]);
  });

  it('a backup, UF2 and raw bytes', () => {
    expect(kindsOfFile({name: 'x', bytes: Uint8Array.of(0x50, 0x4b, 3, 4, 20)})).toEqual(['backup']);
    expect(kindsOfFile({name: 'x', bytes: Uint8Array.of(0x55, 0x46, 0x32, 0x0a, 0x57)})).toEqual(['image']);
    expect(kindsOfFile({name: 'x.bin', bytes: Uint8Array.of(0, 1, 2, 255)})).toEqual(['image']);
    expect(text('x.bin', 'xyz')).toEqual(['image']);
  });

  it('is asked about where more kinds fit, and where none does it is none', () => {
    const strange = `a,b,c\n${rows(20, (i) => `${i},${i * 3},7.5`)}`;
    expect(text('strange.csv', strange)).toEqual(['flight log', 'capture', 'trace']);
    expect(text('letter.txt', 'Dear all, the craft flies.\nSee you.')).toEqual([]);
    expect(text('empty.txt', '')).toEqual([]);
    expect(kindsOfFile({name: 'x.gz', bytes: gzipSync('time,gyro')})).toEqual(['image']);
  });

  it('the demo’s own files', () => {
    for (const name of ['juniper-after', 'alder-bell', 'bramble-clean', 'sorrel-poles'])
      expect(log(`demo/logs/${name}.csv.gz`)).toEqual(['flight log']);
  });
});

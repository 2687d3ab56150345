/** Worked frames of the bench link, one request and one answer of every operation: for adapters to be tried with. */
import {crc32} from '@core/checksums';
import {throttleValue} from '@core/dshot/command';
import {encodePeriod, periodOfErpm} from '@core/dshot/reply';
import {hexOf} from '@core/hex';
import {encodeBurstRow} from '@core/link/burst';
import {encodeMessage} from '@core/link/message';
import type {Operation} from '@core/link/operations';
import {bytesToHex} from '@noble/hashes/utils.js';

export interface WorkedFrame {
  readonly operation: string;
  readonly what: 'request' | 'answer' | 'report';
  /** The CBOR array in the body; bytes are written as {hex}. */
  readonly message: readonly [number, string, unknown];
  /** The whole frame from C0 to C0. */
  readonly frame: string;
}

const config = {
  protocol: 'dshot600',
  replies: true,
  poles: 14,
  gyroHz: 8000,
  loopHz: 8000,
  arms: [0, 1, 2, 3],
  notchHarmonics: [1, 2],
  notchQ: 5,
  notchMinHz: 80,
  movingNotches: 0,
  gyroLowPassHz: 250,
  notchWeights: [100, 60],
  gyroLowPass: 'lowpass2',
  dLowPassFullHz: 180,
  idlePercent: 5.5,
};
const burst = {rateHz: 2000, rows: 4000, kept: 0, rowBytes: 12, memoryRows: 21_000, mostHz: 8000};
/** One output at 21,000 eRPM, 5 % throttle and 1.5 A. */
const burstRow = encodeBurstRow({
  us: 0,
  volts: 24.1,
  cells: [{reply: encodePeriod(periodOfErpm(21_000)), value: throttleValue(0.05), centiamps: 150}],
});
const piece = Uint8Array.of(0xc0, 0xdb, 0x00, 0xff);

/** What is asked and what is answered. Every operation stands here: the compiler asks for it. */
const exchanges: Readonly<Record<Operation, readonly [unknown, unknown]>> = {
  hello: [
    {speaks: [1]},
    {
      link: 1,
      adapter: 'Example',
      abilities: [
        'esc',
        'controller',
        'spin',
        'reports',
        'burst',
        'attitude',
        'receiver',
        'arming',
        'mixer',
        'ends',
        'tone',
      ],
      outputs: 4,
      startId: 'a1',
      road: 'controller',
      lastHold: 0,
    },
  ],
  power: [null, {volts: 24.1, amps: 0, cycles: 1}],
  'adapter.dialect': [{dialect: 'B'}, null],
  reports: [{on: true}, null],
  'esc.enter': [{output: 2}, {chip: 'M32', serial: '0a1b2c', bootRevision: 3, dialect: 'A', applicationValid: true}],
  'esc.leave': [{output: 2}, null],
  'esc.read': [{output: 2, address: 0x1000, length: 4}, piece],
  'esc.checksum': [{output: 2, address: 0x1000, length: 1024}, 0xcbf43926],
  'esc.erase': [{output: 2, address: 0x1000}, null],
  'esc.write': [{output: 2, address: 0x1000, bytes: piece}, null],
  'controller.identify': [null, {board: 'Example', chip: 'F4', clockMhz: 168, firmware: 'Example', version: '2.4'}],
  'controller.read': [null, config],
  'controller.part': [{fields: ['poles', 'loopHz']}, {poles: 14, loopHz: 8000}],
  'controller.set': [{poles: 12}, null],
  'controller.save': [null, null],
  'controller.restart': [null, null],
  'burst.start': [{rateHz: 2000, rows: 4000}, burst],
  'burst.state': [null, {...burst, kept: 1200}],
  'burst.read': [
    {from: 0, count: 1},
    {bytes: burstRow, crc32: crc32(burstRow)},
  ],
  'loader.enter': [null, null],
  'loader.identify': [
    null,
    {
      ...{board: 'Example', chip: 'F4', flashBytes: 0x40000, start: 0x4000, end: 0x40000},
      ...{blockBytes: 1024, revision: 2, applicationValid: false},
    },
  ],
  'loader.state': [null, {state: 'dfuIDLE', fault: 'OK', next: 0}],
  'loader.download': [
    {block: 7, bytes: piece},
    {state: 'dfuDNLOAD-IDLE', fault: 'OK', next: 8},
  ],
  'loader.checksum': [{address: 0x4000, length: 1024}, 0xcbf43926],
  'loader.clear': [null, {state: 'dfuIDLE', fault: 'OK', next: 0}],
  'loader.leave': [null, null],
  'attitude.read': [null, {atMs: 51_020, g: [0.5, 0, -0.75]}],
  'receiver.frames': [
    {since: 700, most: 8},
    {from: 700, frames: [{atMs: 51_001, us: [1500, 1500, 988, 1500, 1000]}], nowMs: 51_008},
  ],
  'arming.state': [null, {armed: false, blocks: ['held', 'switch-on']}],
  'locks.read': [null, [{fields: ['arms'], while: 'powered', held: true}]],
  'tasks.read': [null, [{name: 'filters', hz: 4000, us: 31.5, mostUs: 36.25, gyro: true}]],
  'mixer.read': [null, [{throttle: 1, roll: -1, pitch: 1, yaw: -1}]],
  'ends.send': [{level: 'highest', leaseMs: 1500}, null],
  'tone.sound': [{output: 2, kind: 'lost-craft'}, 1200],
  'settings.describe': [
    {from: 0, most: 1},
    {
      count: 150,
      id: '5f0c22a1',
      entries: [
        {
          key: 'battery.warning_v',
          kind: {of: 'number', min: 2.5, max: 5, step: 0.25, unit: 'V'},
          ...{usual: 3.5, since: '2.0', sentence: 'Voltage of a cell at which it warns.'},
          was: [{key: 'battery.warn', before: '2.2', times: 0.125}],
        },
      ],
    },
  ],
  'settings.read': [
    {from: 0, most: 2},
    {
      count: 150,
      lines: [
        {key: 'battery.warning_v', value: 3.5},
        {key: 'overlay.elements', value: [{what: 'signal', x: 1, y: 0, shown: true}]},
      ],
    },
  ],
  'settings.write': [
    {lines: [{key: 'battery.warning_v', value: 9}]},
    {wrong: {line: 0, code: 'range', text: '9 is not a number from 2.5 to 5, V.'}},
  ],
  'settings.save': [null, null],
  spin: [{hold: 1, sentMs: 65_000, leaseMs: 200, commands: [{output: 0, value: 48}]}, null],
  'spin.stop': [{hold: 1}, null],
};

const report = {
  atMs: 1200,
  power: {volts: 24.1, amps: 1.5, cycles: 1},
  load: 0.4,
  motors: [{erpm: 21_000, throttle: 0.05, asked: 800, lost: 1}],
};

const readable = (value: unknown): unknown => (value instanceof Uint8Array ? {hex: bytesToHex(value)} : value);
const shown = (argument: unknown): unknown =>
  argument && typeof argument === 'object' && !(argument instanceof Uint8Array) && !Array.isArray(argument)
    ? Object.fromEntries(Object.entries(argument).map(([key, value]) => [key, readable(value)]))
    : readable(argument);

function worked(
  what: WorkedFrame['what'],
  about: string,
  [sequence, operation, argument]: WorkedFrame['message'],
): WorkedFrame {
  const frame = [...encodeMessage({sequence, operation, argument})].map((b) => hexOf(b, 2)).join(' ');
  return {operation: about, what, message: [sequence, operation, shown(argument)], frame};
}

export const workedFrames: readonly WorkedFrame[] = [
  ...Object.entries(exchanges).flatMap(([operation, [asked, answered]], i) => [
    worked('request', operation, [i + 1, operation, asked]),
    worked('answer', operation, [i + 1, 'done', answered]),
  ]),
  worked('answer', 'any', [18, 'refused', {code: 'no-power', text: 'Motor 3 is silent: its ESC has no power.'}]),
  worked('report', 'report', [0, 'report', report]),
];

/** The frames as a section of docs/bench-link.md. */
export const framesInWords = (): string =>
  workedFrames
    .map(({message: [sequence, operation, argument], frame}) => {
      const body = `[${sequence}, "${operation}", ${JSON.stringify(argument)}]`;
      return `    ${body}\n    ${frame.replace(/(.{1,95})(?: |$)/g, '$1\n      ').trimEnd()}`;
    })
    .join('\n\n');

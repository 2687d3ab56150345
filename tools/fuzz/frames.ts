/** Frames of the bench link, into an adapter and into a client that waits for answers. */
import {BenchClient} from '@core/link/client';
import {crc16} from '@core/checksums';
import {encodeCbor} from '@core/link/message';
import {operations, type Operation} from '@core/link/operations';
import {SlipDecoder, slipEncode} from '@core/link/slip';
import {SimulatedBench} from '@simulator/hardware/bench';
import {benches} from '@simulator/benches/benches';
import {Random} from '@simulator/random';
import {VirtualTime} from '@core/link/virtual-time';
import {mutate} from './mutate';
import type {FuzzSubject} from './subject';

const report = {
  atMs: 5,
  power: {volts: 24, amps: 1, cycles: 1},
  load: 0.2,
  motors: [{erpm: 4000, throttle: 0.1, asked: 10, lost: 0}],
};
/** One sound argument for every operation. */
const esc = {output: 1, address: 0x2000};
const requests: Readonly<Record<Operation, unknown>> = {
  hello: null,
  power: null,
  'adapter.dialect': {dialect: 'B'},
  reports: {on: true},
  'esc.enter': {output: 1},
  'esc.leave': {output: 1},
  'esc.read': {...esc, length: 64},
  'esc.checksum': {...esc, length: 1024},
  'esc.erase': esc,
  'esc.write': {...esc, bytes: Uint8Array.of(1, 2, 3)},
  'controller.identify': null,
  'controller.read': null,
  'controller.part': {fields: ['poles']},
  'controller.set': {poles: 12},
  'controller.save': null,
  'controller.restart': null,
  'loader.enter': null,
  'loader.identify': null,
  'loader.state': null,
  'loader.download': {block: 3, bytes: Uint8Array.of(1, 2, 3)},
  'loader.checksum': {address: 0x4000, length: 1024},
  'loader.clear': null,
  'loader.leave': null,
  'attitude.read': null,
  'receiver.frames': {since: 700, most: 8},
  'arming.state': null,
  'locks.read': null,
  'tasks.read': null,
  'mixer.read': null,
  'ends.send': {level: 'lowest', leaseMs: 500},
  'tone.sound': {output: 2, kind: 'usual'},
  'settings.describe': {from: 8, most: 8},
  'settings.read': {from: 8, most: 8},
  'settings.write': {lines: [{key: 'gains.roll_p', value: 50}]},
  'settings.save': null,
  'burst.start': {rateHz: 2000, rows: 100},
  'burst.state': null,
  'burst.read': {from: 0, count: 8},
  spin: {hold: 4, sentMs: 5, leaseMs: 200, commands: [{output: 0, value: 100}]},
  'spin.stop': {hold: 4},
};
const answers: readonly unknown[] = [
  null,
  {link: 1, adapter: 'a', outputs: 4, startId: 's', road: 'controller', lastHold: 0},
  report.power,
  {chip: 'M32', serial: 'S', bootRevision: 3, dialect: 'A', applicationValid: true},
  Uint8Array.of(1, 2, 3),
  0xffffffff,
  {rateHz: 2000, rows: 100, kept: 20, rowBytes: 30, memoryRows: 4000, mostHz: 8000},
  {bytes: Uint8Array.of(0, 1, 2), crc32: 7},
  [{throttle: 1, roll: -1, pitch: 0.5, yaw: 1}],
  {atMs: 8, g: [0.1, 0, -1]},
  {from: 700, frames: [{atMs: 7, us: [1500, 1500, 1000, 1500]}], nowMs: 8},
  {armed: false, blocks: ['held']},
  [{fields: ['arms'], while: 'powered', held: true}],
  {
    count: 9,
    id: 'a',
    entries: [
      {
        ...{key: 'a.b', usual: 1, since: '2.0', sentence: 's', was: [{key: 'a.c', before: '2.0', words: {1: 'x'}}]},
        kind: {of: 'table', most: 2, columns: [{name: 'x', kind: {of: 'number', min: 0, max: 2, step: 1}}]},
      },
    ],
  },
  {count: 2, lines: [{key: 'a.b', value: [{x: 1}]}]},
  {wrong: {line: 0, code: 'range', text: 't'}},
  [{name: 'filters', hz: 4000, us: 30, mostUs: 40, gyro: true}],
  {state: 'dfuIDLE', fault: 'OK', next: 0},
  {
    board: 'B',
    chip: 'F4',
    flashBytes: 65536,
    start: 0,
    end: 65536,
    blockBytes: 1024,
    revision: 1,
    applicationValid: true,
  },
  report,
];
/** Bodies of sound messages: damaged ones get a right checksum, so that shapes and ranges have to refuse them. */
const messages = [
  ...Object.entries(requests).map(([operation, argument]) => [5, operation, argument]),
  ...answers.flatMap((argument) => [
    [1, 'done', argument],
    [0, 'report', argument],
  ]),
  [1, 'refused', {code: 'x', text: 'y'}],
];
const bodies = messages.map((message) => encodeCbor(message));

function framed(body: Uint8Array): Uint8Array {
  const sum = crc16(body);
  return slipEncode(Uint8Array.of(...body, sum >> 8, sum & 0xff));
}

export function frameSubject(): FuzzSubject {
  const time = new VirtualTime();
  const bench = new SimulatedBench(benches['juniper']!(1), time);
  const bootloaders = bench.escs.map((e) => Buffer.from(e.flash.read(0, 0x1000)));
  let sent = 0;
  bench.attach(
    () => sent++,
    () => undefined,
  );
  const taking = client(time);
  const decoder = new SlipDecoder();
  // A stop is asked until it is answered: one without answer per input would never end, and no person lets go so often.
  const names = (Object.keys(operations) as Operation[]).filter((name) => name !== 'spin.stop');
  const random = new Random(78);
  let turn = 0;
  return {
    seeds: bodies,
    take: (body) => {
      // Every second one is damaged on the cable instead, frame and checksum too.
      const sound = bodies[random.below(bodies.length)]!;
      const input = turn % 2 ? framed(body) : mutate(random, framed(sound));
      const faultsBefore = taking.client.counters.badFrames;
      bench.receive(input);
      taking.ask(names[turn++ % names.length]!);
      taking.client.take(input);
      const got = decoder.push(input);
      // Long enough that few requests are under way at once.
      time.advanceTo(time.now() + 100);
      const harmed = bench.escs.some(
        (e, i) => turn % 1000 === 0 && !bootloaders[i]!.equals(Buffer.from(e.flash.read(0, 0x1000))),
      );
      if (harmed) throw new Error('A bootloader changed');
      return {isFaulty: got.length === 0 || taking.client.counters.badFrames > faultsBefore};
    },
  };
}

/** A client whose far end is the fuzzer, with one request under way at a time. */
function client(time: VirtualTime) {
  const own = new BenchClient(
    {
      readable: {getReader: () => ({read: () => new Promise(() => undefined), cancel: () => Promise.resolve()})},
      writable: {getWriter: () => ({write: () => Promise.resolve(), close: () => Promise.resolve()})},
    },
    time,
  );
  return {
    client: own,
    ask: (operation: Operation) => void own.request(operation, requests[operation] as never).catch(() => undefined),
  };
}

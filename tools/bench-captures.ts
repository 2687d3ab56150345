/** Figures of captures: a dump of 100 MB read and decoded, memory beside the edges, and a timeline of a million edges squeezed. */
import {execFileSync} from 'node:child_process';
import {mkdtempSync, rmSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import type {Capture, Wire} from '@core/capture/read/capture';
import {decodeWire} from '@core/capture/decode/decode-wire';
import {faultyRows} from '@core/capture/decode/frames';
import {levelColumns} from '@core/capture/read/level-columns';
import {readerFor} from '@core/capture/read/read-capture';
import {timelineWire} from '@core/capture/ask/timeline';
import {writeVcd} from '@core/capture/read/write-vcd';
import {encodeCommand} from '@core/dshot/command';
import {encodeReply} from '@core/dshot/reply';
import {commandEdges, replyEdges} from '@core/dshot/waveform';
import type {Row} from './bench-noise';

const megabyte = 1e6;
const pieceBytes = 1 << 16;

/** Four wires of DShot300 with replies at 4 kHz, so long that the dump has about 100 MB. */
function madeDump(): Uint8Array {
  const loops = 4000;
  const wires = [0, 1, 2, 3].map((w): Wire => {
    const edges = Array.from({length: loops}, (_, i) => {
      const at = i * 250 + 10 * w;
      const command = commandEdges(
        encodeCommand({value: 48 + ((i + w) % 1900), telemetryRequest: false}, true),
        'dshot300',
        true,
      );
      const reply = replyEdges(encodeReply(400 + ((i * 7 + w) % 600)), 'dshot300');
      return [...command, ...reply].map(({us}) => (us + at) * 1e-6);
    }).flat();
    return {name: `bench.motor_${w + 1}`, first: 1, edges: Float64Array.from(edges), unknown: new Float64Array(0)};
  });
  const one = writeVcd(wires, loops * 250e-6);
  const [head, body] = [
    one.slice(0, one.indexOf('#0')),
    one.slice(one.indexOf('$end\n', one.indexOf('$dumpvars')) + 5),
  ];
  const pieces = [head, '#0\n$dumpvars\n1!\n1"\n1#\n1$\n$end\n'];
  const copies = Math.ceil((100 * megabyte) / body.length);
  for (let copy = 0; copy < copies; copy++) {
    const offset = copy * (loops * 250_000 + 1000);
    pieces.push(body.replace(/^#(\d+)$/gm, (_, t: string) => `#${Number(t) + offset}`));
  }
  return new TextEncoder().encode(pieces.join(''));
}

function read(bytes: Uint8Array): Capture {
  const reader = readerFor(bytes);
  for (let i = 0; i < bytes.length; i += pieceBytes) reader.push(bytes.subarray(i, i + pieceBytes));
  return reader.end();
}

const seconds = (work: () => unknown): number => {
  const began = performance.now();
  work();
  return (performance.now() - began) / 1000;
};

export function benchCaptures(row: Row): void {
  const bytes = madeDump();
  const size = bytes.length / megabyte;
  let capture = read(bytes.subarray(0, bytes.length >> 3));
  globalThis.gc?.();
  const before = process.memoryUsage();
  const readS = seconds(() => (capture = read(bytes)));
  const after = process.memoryUsage();
  const edgeBytes = capture.wires.reduce((sum, w) => sum + w.edges.byteLength, 0);
  const grown = after.heapUsed + after.arrayBuffers - before.heapUsed - before.arrayBuffers;
  row(`${size.toFixed(0)} MB of VCD read`, `${(size / readS).toFixed(0)} MB/s`, 'in pieces of 64 KiB; at least 60');
  row(
    'memory beside the edges of it',
    `${(grown / edgeBytes).toFixed(2)} ×`,
    `${(edgeBytes / megabyte).toFixed(0)} MB of edges; under 3`,
  );
  const decodeS = seconds(() => capture.wires.map((w) => decodeWire(w, capture)));
  const all = size / (readS + decodeS);
  row('the same with every frame decoded', `${all.toFixed(0)} MB/s`, `decoding takes ${decodeS.toFixed(2)} s`);
  zooming(capture, row);
  beside(bytes, readS + decodeS, row);
}

/** The questions of a hand that zooms from the whole into microseconds and back over the longest wire. */
function zooming({wires, from, to}: Capture, row: Row): void {
  const wire = {...wires[0]!, edges: wires[0]!.edges.subarray(0, 1_000_000)};
  const end = Math.min(to, wire.edges.at(-1)!);
  const decoded = decodeWire(wire, {from, to: end});
  const faulty = faultyRows(decoded);
  let longest = 0;
  for (let i = 0; i <= 120; i++) {
    const width = (end - from) * 10 ** (-6 * Math.abs(1 - i / 60) + 0);
    const at = from + (end - from - width) * 0.37;
    const began = performance.now();
    timelineWire(wire, decoded, {question: {from: at, to: at + width, columns: 1600, poles: 14}, faulty});
    longest = Math.max(longest, performance.now() - began);
  }
  row(
    'a million edges zoomed, the longest answer',
    `${longest.toFixed(1)} ms`,
    'levels, frames and faults of 1600 columns',
  );
  const s = seconds(() => levelColumns(wire, {from, to: end, columns: 1600}));
  row('the levels alone, all of it', `${(s * 1000).toFixed(2)} ms`, 'a frame has 16.7');
}

/** As whole processes: `bidex capture` decodes every frame and prints it, vcd2fst only converts. */
function beside(bytes: Uint8Array, readAndDecodedS: number, row: Row): void {
  const folder = mkdtempSync(join(tmpdir(), 'bidex-bench-'));
  const file = join(folder, 'wires.vcd');
  writeFileSync(file, bytes);
  const whole = (command: string, args: readonly string[]) =>
    Math.min(...[0, 1].map(() => seconds(() => execFileSync(command, args, {stdio: 'ignore'}))));
  const ours = whole('node', ['tools/bidex.mjs', 'capture', file, '--poles', '14']);
  row('whole process: bidex capture, every frame as JSON', `${ours.toFixed(2)} s`);
  try {
    const theirs = whole('vcd2fst', [file, join(folder, 'wires.fst')]);
    row(
      'whole process: vcd2fst',
      `${theirs.toFixed(2)} s`,
      `with JSON ${(ours / theirs).toFixed(2)} of it, at most 1.5; read and decoded alone ${(readAndDecodedS / theirs).toFixed(2)}`,
    );
  } catch {
    // Debian's gtkwave is a tool of the tests, not of the product.
    row('whole process: vcd2fst', '–', 'not on this machine: apt-get install gtkwave');
  }
  rmSync(folder, {recursive: true});
}

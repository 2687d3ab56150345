/** Mutated image files of every format through all readers: none may throw, hang, or make more bytes than the file has. */
import {readFileSync} from 'node:fs';
import {formatOf, readImage} from '@core/firmware/read-image';
import {readSRecord} from '@core/firmware/s-record';
import {readIntelHex, writeIntelHex} from '@core/firmware/intel-hex';
import {readUf2} from '@core/firmware/uf2';
import {Random} from '@simulator/random';

export interface FuzzReport {
  readonly runs: number;
  /** Readings that threw: a bug each. */
  throws: number;
  /** Readings that told more bytes than their file has. */
  tooLarge: number;
  /** Longest reading, ms. */
  slowestMs: number;
  /** Heap at the end over heap at the start, MiB. */
  heapGrowthMiB: number;
  /** How many files had faults for the reader of their own format: shows that the mutations bite. */
  withFaults: number;
}

const fixture = (name: string) => Uint8Array.from(readFileSync(new URL(`../core/fixtures/${name}`, import.meta.url)));
const latin1 = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** A file of one UF2 block (public specification: 512 bytes, magics at 0, 4 and 508). */
function uf2File(): Uint8Array {
  const block = new Uint8Array(512);
  const view = new DataView(block.buffer);
  [0x0a324655, 0x9e5d5157, 0, 0x1000, 64, 0, 1, 0].forEach((word, i) => view.setUint32(i * 4, word, true));
  block.fill(0x5a, 32, 96);
  view.setUint32(508, 0x0ab16f30, true);
  return block;
}

export function fuzzReaders(runs: number, seed: number): FuzzReport {
  const random = new Random(seed);
  const seeds = [
    fixture('linear.hex'),
    fixture('four.s37'),
    fixture('two.s19'),
    uf2File(),
    latin1(writeIntelHex({segments: [{start: 0x1_fff0, bytes: new Uint8Array(64)}]})),
  ];
  const report: FuzzReport = {runs, throws: 0, tooLarge: 0, slowestMs: 0, heapGrowthMiB: 0, withFaults: 0};
  const heapBefore = process.memoryUsage().heapUsed;
  for (let i = 0; i < runs; i++) {
    const file = mutate(random, seeds[random.below(seeds.length)]!);
    const began = performance.now();
    try {
      const readings = readAll(file);
      if (readings[0]!.faults.length) report.withFaults++;
      if (readings.some((r) => r.image.segments.reduce((sum, s) => sum + s.bytes.length, 0) > file.length))
        report.tooLarge++;
    } catch {
      // Counted: the report is the account.
      report.throws++;
    }
    report.slowestMs = Math.max(report.slowestMs, performance.now() - began);
  }
  report.heapGrowthMiB = Math.round((process.memoryUsage().heapUsed - heapBefore) / 2 ** 20);
  return report;
}

/** The reader that the file's format asks for, and the three others, which must survive it too. */
function readAll(file: Uint8Array) {
  const text = String.fromCharCode(...file);
  const reading = readImage(file, formatOf(file) === 'bin' ? 0x1000 : undefined);
  return [...(reading.ok ? [reading.value] : []), readIntelHex(text), readSRecord(text), readUf2(file)];
}

/** One to four edits: bytes changed, put in, cut out, or a piece told twice. */
function mutate(random: Random, seed: Uint8Array): Uint8Array {
  let bytes = [...seed];
  const edits = 1 + random.below(4);
  for (let i = 0; i < edits; i++) {
    const at = random.below(bytes.length + 1);
    const length = random.below(8);
    switch (random.below(5)) {
      case 0:
        if (at < bytes.length) bytes[at] = random.below(256);
        break;
      case 1:
        bytes.splice(at, 0, ...random.bytes(length));
        break;
      case 2:
        bytes.splice(at, length);
        break;
      case 3:
        bytes.splice(at, 0, ...bytes.slice(0, random.below(200)));
        break;
      default:
        bytes = bytes.slice(0, at);
    }
  }
  return Uint8Array.from(bytes);
}

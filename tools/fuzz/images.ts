/** Image files of every format: none may throw, hang, or make more bytes than the file has. */
import {readFileSync} from 'node:fs';
import {formatOf, readImage} from '@core/firmware/formats/read-image';
import {readSRecord} from '@core/firmware/formats/s-record';
import {readIntelHex, writeIntelHex} from '@core/firmware/formats/intel-hex';
import {readUf2} from '@core/firmware/formats/uf2';
import type {FuzzSubject} from './subject';

const fixture = (name: string) =>
  Uint8Array.from(readFileSync(new URL(`../../core/fixtures/${name}`, import.meta.url)));
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

/** Image files through the reader of their format and the three others, which must survive them too. */
export const imageSubject: FuzzSubject = {
  seeds: [
    fixture('linear.hex'),
    fixture('four.s37'),
    fixture('two.s19'),
    uf2File(),
    latin1(writeIntelHex({segments: [{start: 0x1_fff0, bytes: new Uint8Array(64)}]})),
  ],
  take: (file) => {
    const readings = readAll(file);
    const tooLarge = readings.some((r) => r.image.segments.reduce((sum, s) => sum + s.bytes.length, 0) > file.length);
    return {isFaulty: readings[0]!.faults.length > 0, tooLarge};
  },
};

/** The reader that the file's format asks for, and the three others, which must survive it too. */
function readAll(file: Uint8Array) {
  const text = String.fromCharCode(...file);
  const reading = readImage(file, formatOf(file) === 'bin' ? 0x1000 : undefined);
  return [...(reading.ok ? [reading.value] : []), readIntelHex(text), readSRecord(text), readUf2(file)];
}

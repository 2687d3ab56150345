/** Reads and decodes one capture and says how many frames it has: what `npm run bench` times as a whole process. */
import {createReadStream} from 'node:fs';
import {decodeWire} from '@core/capture/decode-wire';
import {frameCount} from '@core/capture/frames';
import type {CaptureReader} from '@core/capture/capture';
import {readerFor} from '@core/capture/read-capture';

let reader: CaptureReader | undefined;
for await (const piece of createReadStream(process.argv[2]!) as AsyncIterable<Uint8Array>) {
  reader ??= readerFor(piece);
  reader.push(piece);
}
const capture = (reader ?? readerFor(new Uint8Array(0))).end();
console.log(capture.wires.reduce((sum, wire) => sum + frameCount(decodeWire(wire, capture)), 0));

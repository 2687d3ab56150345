/** Which reader a capture's first bytes ask for. */
import type {CaptureReader} from './capture';
import {CsvEdgesReader} from './csv-edges';
import {VcdReader} from './vcd';

/** A value change dump begins with a section of its header, whatever blanks stand before it. */
export function readerFor(firstBytes: Uint8Array): CaptureReader {
  const begin = new TextDecoder().decode(firstBytes.subarray(0, 4096)).trimStart();
  return begin.startsWith('$') ? new VcdReader() : new CsvEdgesReader();
}

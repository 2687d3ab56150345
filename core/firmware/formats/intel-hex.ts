/**
 * Intel HEX (Intel, "Hexadecimal Object File Format Specification", 1988): reader and writer.
 * Our own reader, since faults need a line and a kind, and addresses above 0x80000000 must work.
 */
import {findNonHex, hexBytes} from './hex-bytes';
import type {Image, ImageFault, ImageReading} from '../image';
import {hexOf} from '../../hex';
import {readRecordFile, type OnShare} from './record-file';

interface HexRecord {
  readonly address: number;
  readonly type: number;
  readonly data: Uint8Array;
}

/** Reads the text of an Intel HEX file. Never throws: every fault is listed with its line. */
export function readIntelHex(text: string, onShare?: OnShare): ImageReading {
  let base = 0;
  return readRecordFile<HexRecord>(
    text,
    {
      readRecord,
      take: ({type, address, data}, line, collector) => {
        switch (type) {
          case 0x00:
            collector.add({start: base + address, bytes: data, line});
            return false;
          case 0x01:
            return true;
          case 0x02:
          case 0x04:
            if (data.length === 2) base = ((data[0]! << 8) | data[1]!) * (type === 0x02 ? 0x10 : 0x10000);
            else collector.fault(lengthFault(line, 'an address record', 2, data.length));
            return false;
          case 0x03:
          case 0x05:
            if (data.length !== 4) collector.fault(lengthFault(line, 'a start record', 4, data.length));
            return false;
          default: {
            const text = `Record type ${hexOf(type, 2)} is not part of Intel HEX.`;
            collector.fault({line, kind: 'unknown-record', text});
            return false;
          }
        }
      },
    },
    onShare,
  );
}

function lengthFault(line: number, what: string, expected: number, came: number): ImageFault {
  return {line, kind: 'bad-length', text: `${what} carries ${expected} bytes, this one ${came}.`};
}

function readRecord(content: string, line: number): HexRecord | ImageFault {
  if (content[0] !== ':')
    return {line, column: 1, kind: 'bad-character', text: `A record starts with ":", found "${content[0]}".`};
  const wrong = findNonHex(content, 1);
  if (wrong >= 0)
    return {
      line,
      column: wrong + 1,
      kind: 'bad-character',
      text: `"${content[wrong]}" is not a hexadecimal digit.`,
    };
  if (content.length < 11 || content.length % 2 === 0)
    return {
      line,
      kind: 'bad-length',
      text: `A record has an even number of at least 10 digits, this one ${content.length - 1}.`,
    };
  const bytes = hexBytes(content, 1);
  let sum = 0;
  for (const byte of bytes) sum += byte;
  const length = bytes[0]!;
  if (bytes.length !== length + 5)
    return {
      line,
      kind: 'bad-length',
      text: `The record announces ${length} bytes and carries ${bytes.length - 5}.`,
    };
  if ((sum & 0xff) !== 0) {
    const stated = bytes.at(-1)!;
    const right = (stated - sum) & 0xff;
    return {
      line,
      kind: 'bad-checksum',
      text: `Checksum ${hexOf(stated, 2)}, computed ${hexOf(right, 2)}. The file is damaged.`,
    };
  }
  return {address: (bytes[1]! << 8) | bytes[2]!, type: bytes[3]!, data: bytes.slice(4, 4 + length)};
}

/** Writes Intel HEX with linear addresses and `bytesPerRecord` data bytes in a line. */
export function writeIntelHex(image: Image, bytesPerRecord = 32): string {
  const out: string[] = [];
  const record = (address: number, type: number, data: Uint8Array) => {
    const head = [data.length, (address >> 8) & 0xff, address & 0xff, type];
    const sum = [...head, ...data].reduce((a, b) => a + b, 0);
    out.push(':' + [...head, ...data, -sum & 0xff].map((b) => hexOf(b, 2)).join(''));
  };
  let upper = 0;
  for (const {start, bytes} of image.segments) {
    for (let at = 0; at < bytes.length;) {
      const address = start + at;
      const high = Math.floor(address / 0x10000);
      if (high !== upper) record(0, 4, Uint8Array.of(high >> 8, high & 0xff));
      upper = high;
      const room = 0x10000 - (address & 0xffff);
      const take = Math.min(bytesPerRecord, bytes.length - at, room);
      record(address & 0xffff, 0, bytes.subarray(at, at + take));
      at += take;
    }
  }
  record(0, 1, new Uint8Array(0));
  return out.join('\n') + '\n';
}

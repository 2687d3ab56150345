/**
 * Motorola S-record, the S19, S28 and S37 forms: S1, S2 and S3 carry data at addresses of 2, 3 and 4 bytes, S9, S8 and
 * S7 end them, S0 is a header, S5 and S6 count the data records. The last byte of a record is the ones' complement of
 * the sum of all bytes before it.
 */
import {findNonHex, hexBytes} from './hex-bytes';
import type {ImageFault, ImageReading} from '../image';
import {hexOf} from '../../hex';
import {readRecordFile, type OnShare} from './record-file';

/** Bytes of address by record type; type 4 is reserved. */
const addressBytes: Readonly<Record<string, number>> = {0: 2, 1: 2, 2: 3, 3: 4, 5: 2, 6: 3, 7: 4, 8: 3, 9: 2};

interface SRecord {
  readonly type: string;
  readonly address: number;
  readonly data: Uint8Array;
}

/** Reads the text of an S-record file. Never throws: every fault is listed with its line. */
export function readSRecord(text: string, onShare?: OnShare): ImageReading {
  let dataRecords = 0;
  let counted = false;
  return readRecordFile<SRecord>(
    text,
    {
      readRecord,
      // A file that closes with the right count of its records is whole, even without an end record.
      isWhole: () => counted,
      take: ({type, address, data}, line, collector) => {
        switch (type) {
          case '1':
          case '2':
          case '3':
            dataRecords++;
            counted = false;
            collector.add({start: address, bytes: data, line});
            return false;
          case '5':
          case '6': {
            counted = address === dataRecords;
            const text = `The file counts ${address} data records, ${dataRecords} came. Lines were lost.`;
            if (!counted) collector.fault({line, kind: 'bad-length', text});
            return false;
          }
          default:
            return type === '7' || type === '8' || type === '9';
        }
      },
    },
    onShare,
  );
}

function readRecord(content: string, line: number): SRecord | ImageFault {
  if (content[0] !== 'S' && content[0] !== 's')
    return {line, column: 1, kind: 'bad-character', text: `A record starts with "S", found "${content[0]}".`};
  const type = content[1] ?? '';
  const wide = addressBytes[type];
  if (wide === undefined)
    return {line, column: 2, kind: 'unknown-record', text: `Record type "S${type}" is not part of S-record.`};
  const wrong = findNonHex(content, 2);
  if (wrong >= 0)
    return {
      line,
      column: wrong + 1,
      kind: 'bad-character',
      text: `"${content[wrong]}" is not a hexadecimal digit.`,
    };
  return readBytes(content, {line, type, wide});
}

/** The bytes behind the type: length, address, data, checksum. */
function readBytes(
  content: string,
  {line, type, wide}: {readonly line: number; readonly type: string; readonly wide: number},
): SRecord | ImageFault {
  const digits = content.length - 2;
  if (digits % 2 || digits < 2)
    return {
      line,
      kind: 'bad-length',
      text: `A record has an even number of digits after its type, this one ${digits}.`,
    };
  const bytes = hexBytes(content, 2);
  const announced = bytes[0]!;
  if (announced !== bytes.length - 1 || announced < wide + 1)
    return {
      line,
      kind: 'bad-length',
      text: `The record announces ${announced} bytes and carries ${bytes.length - 1}; its type needs at least ${wide + 1}.`,
    };
  const stated = bytes.at(-1)!;
  const right = ~bytes.subarray(0, -1).reduce((sum, b) => sum + b, 0) & 0xff;
  if (stated !== right)
    return {
      line,
      kind: 'bad-checksum',
      text: `Checksum ${hexOf(stated, 2)}, computed ${hexOf(right, 2)}. The file is damaged.`,
    };
  const address = bytes.subarray(1, 1 + wide).reduce((value, b) => value * 256 + b, 0);
  return {type, address, data: bytes.slice(1 + wide, -1)};
}

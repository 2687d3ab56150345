/** Reads an image file of any format Bidex knows; the format is told by the file's own first bytes. */
import {failure, success, type Problem, type Result} from '../../problem';
import type {ImageReading} from '../image';
import {readIntelHex} from './intel-hex';
import {addressEnd} from './pieces';
import {hexOf} from '../../hex';
import type {OnShare} from './record-file';
import {readSRecord} from './s-record';
import {looksLikeUf2, readUf2} from './uf2';

type ImageFormat = 'intel-hex' | 's-record' | 'uf2' | 'bin';

export interface FileReading extends ImageReading {
  readonly format: ImageFormat;
  /** Families of a UF2 file. */
  readonly families?: readonly number[];
}

/** Which format a file is in; raw bytes when nothing else fits. */
export function formatOf(file: Uint8Array): ImageFormat {
  if (looksLikeUf2(file)) return 'uf2';
  const first = file.findIndex((b) => b !== 0x20 && b !== 0x0a && b !== 0x0d && b !== 0x09);
  const [mark, next] = [file[first], file[first + 1]];
  if (mark === 0x3a) return 'intel-hex';
  return (mark === 0x53 || mark === 0x73) && next !== undefined && next >= 0x30 && next <= 0x39 ? 's-record' : 'bin';
}

/**
 * @param base address of the first byte, for raw bytes only; a format with addresses of its own refuses it.
 */
export function readImage(file: Uint8Array, base?: number, onShare?: OnShare): Result<FileReading> {
  if (!file.length) return failure(emptyFile);
  const reading = readFormat(file, base, onShare);
  if (!reading.ok || reading.value.image.segments.length || reading.value.faults.length) return reading;
  return failure({
    code: 'no-data',
    place: 'image',
    meaning: `This ${reading.value.format} file has no data: of all its records none holds a byte.`,
    remedy: 'Export it again, or open the file that the firmware was built into.',
  });
}

const emptyFile: Problem = {
  code: 'empty-file',
  place: 'image',
  meaning: 'The file is empty: it has 0 bytes.',
  remedy: 'Export or download it again.',
};

function readFormat(file: Uint8Array, base?: number, onShare?: OnShare): Result<FileReading> {
  const format = formatOf(file);
  if (format === 'bin') return readRaw(file, base);
  if (base !== undefined)
    return failure({
      code: 'base-not-used',
      place: 'base address',
      meaning: `This file is ${format}, which carries its own addresses.`,
      remedy: 'Leave the base address away.',
    });
  if (format === 'uf2') return success({format, ...readUf2(file)});
  const text = latin1(file);
  return success({format, ...(format === 'intel-hex' ? readIntelHex(text, onShare) : readSRecord(text, onShare))});
}

function readRaw(file: Uint8Array, base: number | undefined): Result<FileReading> {
  if (base === undefined)
    return failure({
      code: 'base-missing',
      place: 'base address',
      meaning:
        'The file is none of Intel HEX, S-record and UF2, so its bytes are raw, and raw bytes do not say where they belong.',
      remedy: 'Give the address of the first byte.',
    });
  const faults =
    Number.isInteger(base) && base >= 0 && base + file.length <= addressEnd
      ? []
      : [
          {
            line: 1,
            kind: 'out-of-range' as const,
            text: `${file.length} bytes from ${hexOf(base, 8)} reach beyond 32 bits.`,
          },
        ];
  const segments = file.length && !faults.length ? [{start: base, bytes: file.slice()}] : [];
  return success({format: 'bin', image: {segments}, faults, notes: []});
}

/** One character per byte. Those above 0x7F become others than in Latin 1, and are none of an image either way. */
const latin1 = (file: Uint8Array): string => new TextDecoder('windows-1252').decode(file);

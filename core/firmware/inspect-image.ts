/** What an image file says by itself: its format, its content or faults, its digest. */
import {readImage, type FileReading} from './formats/read-image';
import {sha256Hex} from './releases';
import {success, type Result} from '../problem';

export interface InspectedFile {
  readonly name: string;
  readonly sha256: string;
  readonly sizeBytes: number;
  readonly reading: FileReading;
}

interface InspectOptions {
  /** Address of the first byte, for raw bytes. */
  readonly base: number | undefined;
  /** Share read, 0…1. */
  readonly onProgress?: (share: number) => void;
}

export function inspectImage(
  name: string,
  bytes: Uint8Array,
  {base, onProgress}: InspectOptions,
): Result<InspectedFile> {
  const reading = readImage(bytes, base, (share) => onProgress?.(share * 0.9));
  if (!reading.ok) return reading;
  const sha256 = sha256Hex(bytes);
  onProgress?.(1);
  return success({name, sha256, sizeBytes: bytes.length, reading: reading.value});
}

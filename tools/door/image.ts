/** What an image file holds: `bidex image`. */
import {createHash} from 'node:crypto';
import {crc32} from '@core/checksums';
import {chips} from '@core/firmware/chips';
import {compareImages} from '@core/firmware/compare-images';
import {checkApplication} from '@core/firmware/identity';
import {extent, flatten, type Image} from '@core/firmware/image';
import {readImage} from '@core/firmware/formats/read-image';
import {fail, failed, outcome, readFile, type Answer, type Run} from './command';

export const run: Run = ({file, options}) => {
  const stated = options.get('--base');
  const base = stated === undefined ? undefined : /^(0x[0-9a-f]+|\d+)$/i.test(stated) ? Number(stated) : NaN;
  if (Number.isNaN(base)) return outcome(fail('base', `--base takes an address such as 0x1000, not "${stated}".`));
  const other = options.get('--against');
  const against = other === undefined ? undefined : readFile(other);
  return outcome(describeImage({file: readFile(file), base, against}));
};

/** Longest span between first and last byte that is flattened for a checksum, bytes. */
const longestSpan = 64 * 1024 * 1024;
/** Most runs of differing bytes that are listed one by one. */
const maxRuns = 64;

export interface ImageFiles {
  readonly file: Uint8Array;
  /** Address of the first byte of a raw file. */
  readonly base: number | undefined;
  /** A second image to compare with. */
  readonly against: Uint8Array | undefined;
}

/** What an image file holds. Not ok when it has faults; the report then lists them. */
export function describeImage({file, base, against}: ImageFiles): Answer {
  const reading = readImage(file, base);
  if (!reading.ok) return failed(reading.problem);
  const other = against && readImage(against, isRaw(against) ? base : undefined);
  if (other && !other.ok) return failed(other.problem);
  const {format, image, faults, notes, families} = reading.value;
  const span = extent(image);
  const flat = span && span.end - span.start <= longestSpan ? flatten(image, span) : undefined;
  const identity = Object.values(chips).map((chip) => checkApplication(flatten(image, chip.application)));
  const otherFaults = other?.value.faults ?? [];
  const first = faults[0] ?? otherFaults[0];
  return {
    ok: first === undefined,
    value: {
      format,
      ...(families && {families: families.map(hex8)}),
      segments: image.segments.map(({start, bytes}) => ({
        start,
        length: bytes.length,
        sha256: sha256Of(bytes),
        crc32: hex8(crc32(bytes)),
      })),
      start: span?.start ?? null,
      length: span ? span.end - span.start : 0,
      sha256: flat ? sha256Of(flat) : null,
      crc32: flat ? hex8(crc32(flat)) : null,
      fileSha256: sha256Of(file),
      identity: identity.find((i) => i.ok)?.value ?? null,
      faults,
      notes,
      ...(other && {against: {...compare(image, other.value.image), faults: otherFaults}}),
      ...(first && {
        error: {
          code: 'image-faults',
          message: `${faults.length + otherFaults.length} faults, the first in line ${first.line}: ${first.text}`,
        },
      }),
    },
  };
}

const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

const isRaw = (file: Uint8Array) => {
  const reading = readImage(file);
  return !reading.ok && reading.problem.code === 'base-missing';
};

function compare(a: Image, b: Image) {
  const {equal, differingBytes, runs} = compareImages(a, b);
  return {equal, differingBytes, runs: runs.slice(0, maxRuns), moreRuns: Math.max(0, runs.length - maxRuns)};
}

const hex8 = (value: number) => value.toString(16).padStart(8, '0');

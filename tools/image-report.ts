import {crc32} from '@core/checksums';
import {chips} from '@core/firmware/chips';
import {checkApplication} from '@core/firmware/identity';
import {extent, flatten} from '@core/firmware/image';
import {readIntelHex} from '@core/firmware/intel-hex';
import {sha256Hex} from '@core/firmware/releases';

/** Longest span between first and last byte that is flattened for a checksum, bytes. */
const longestSpan = 64 * 1024 * 1024;

/** What an Intel HEX file holds. Not ok when it has faults; the report then lists them. */
export function describeImage(file: Uint8Array): {ok: boolean; value: unknown} {
  const {image, faults} = readIntelHex(new TextDecoder('latin1').decode(file));
  const span = extent(image);
  const flat = span && span.end - span.start <= longestSpan ? flatten(image, span) : undefined;
  const identity = Object.values(chips).map((chip) => checkApplication(flatten(image, chip.application)));
  const value = {
    format: 'intel-hex',
    segments: image.segments.map(({start, bytes}) => ({
      start,
      length: bytes.length,
      sha256: sha256Hex(bytes),
      crc32: hex8(crc32(bytes)),
    })),
    start: span?.start ?? null,
    length: span ? span.end - span.start : 0,
    sha256: flat ? sha256Hex(flat) : null,
    crc32: flat ? hex8(crc32(flat)) : null,
    fileSha256: sha256Hex(file),
    identity: identity.find((i) => i.ok)?.value ?? null,
    faults,
    ...(faults.length && {
      error: {
        code: 'image-faults',
        message: `${faults.length} faults, the first in line ${faults[0]!.line}: ${faults[0]!.text}`,
      },
    }),
  };
  return {ok: faults.length === 0, value};
}

const hex8 = (value: number) => value.toString(16).padStart(8, '0');

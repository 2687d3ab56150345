/** Raw bytes: an image without addresses of its own. */
import {failure, success, type Result} from '../../problem';
import {extent, flatten, type Image} from '../image';
import {hexOf} from '../../hex';

/** Longest span that is written as raw bytes; a gap is filled, so two far segments would make a huge file. */
const longestRawBytes = 64 * 1024 * 1024;

/** The bytes from the first to the last address, gaps as 0xFF, and the address of the first, which a reader must be told. */
export function writeRaw(image: Image): Result<{readonly base: number; readonly bytes: Uint8Array}> {
  const span = extent(image);
  if (!span || span.end - span.start > longestRawBytes)
    return failure({
      code: 'not-raw',
      place: span ? `${hexOf(span.start, 8)} to ${hexOf(span.end - 1, 8)}` : 'image',
      meaning: span ? 'The segments lie too far apart for one run of bytes.' : 'The image holds no bytes.',
      remedy: 'Save it as Intel HEX, which keeps addresses and gaps.',
    });
  return success({base: span.start, bytes: flatten(image, span)});
}

/** Where two images differ, byte by byte; a byte that only one of them tells differs too. */
import type {Image, Segment} from './image';

interface ByteRun {
  readonly start: number;
  readonly length: number;
}

interface ImageDifference {
  readonly equal: boolean;
  readonly differingBytes: number;
  /** Runs of differing bytes, by address. */
  readonly runs: readonly ByteRun[];
}

export function compareImages(a: Image, b: Image): ImageDifference {
  const runs: {start: number; length: number}[] = [];
  const differ = (start: number, length: number) => {
    const last = runs.at(-1);
    if (last && last.start + last.length === start) last.length += length;
    else runs.push({start, length});
  };
  const edges = new Set<number>();
  for (const {start, bytes} of [...a.segments, ...b.segments]) edges.add(start).add(start + bytes.length);
  const sorted = [...edges].sort((x, y) => x - y);
  for (const [i, start] of sorted.slice(0, -1).entries()) {
    const end = sorted[i + 1]!;
    const [left, right] = [segmentAt(a, start), segmentAt(b, start)];
    if (!left && !right) continue;
    if (!left || !right) differ(start, end - start);
    else compareBytes(left, right, {start, end}, differ);
  }
  const differingBytes = runs.reduce((sum, r) => sum + r.length, 0);
  return {equal: differingBytes === 0, differingBytes, runs};
}

function compareBytes(
  left: Segment,
  right: Segment,
  {start, end}: {start: number; end: number},
  differ: (start: number, length: number) => void,
): void {
  for (let at = start; at < end; at++) if (left.bytes[at - left.start] !== right.bytes[at - right.start]) differ(at, 1);
}

const segmentAt = ({segments}: Image, address: number): Segment | undefined =>
  segments.find((s) => s.start <= address && address < s.start + s.bytes.length);

/** Sixteen addresses of a hex view; null where an image tells no byte. */
interface HexRow {
  readonly address: number;
  readonly left: readonly (number | null)[];
  readonly right: readonly (number | null)[];
}

const hexRowBytes = 16;

/** Addresses of the rows that hold a difference, at most `most`. */
export function differingRows({runs}: ImageDifference, most: number): number[] {
  const rows: number[] = [];
  for (const {start, length} of runs)
    for (let row = start - (start % hexRowBytes); row < start + length; row += hexRowBytes) {
      if (rows.at(-1) !== row) rows.push(row);
      if (rows.length === most) return rows;
    }
  return rows;
}

export function hexRow(a: Image, b: Image, address: number): HexRow {
  const bytesOf = (image: Image) =>
    Array.from({length: hexRowBytes}, (_, i) => {
      const segment = segmentAt(image, address + i);
      return segment ? segment.bytes[address + i - segment.start]! : null;
    });
  return {address, left: bytesOf(a), right: bytesOf(b)};
}

/** Pages of `pageBytes` that hold a difference, by address. */
export function differingPages({runs}: ImageDifference, pageBytes: number): number[] {
  const pages = new Set<number>();
  for (const {start, length} of runs)
    for (let page = start - (start % pageBytes); page < start + length; page += pageBytes) pages.add(page);
  return [...pages];
}

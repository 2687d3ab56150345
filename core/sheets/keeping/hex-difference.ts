/** Two images byte by byte: how much differs, and the rows that hold a difference. */
import {compareImages, differingPages, differingRows, hexRow} from '../../firmware/compare-images';
import type {Image} from '../../firmware/image';
import {addressText, hexOf} from '../../hex';
import {grouped} from '../../words/grouped';

interface HexDifference {
  readonly isEqual: boolean;
  /** Bytes, and pages that hold them. */
  readonly bytes: string;
  readonly pages: string;
  /** Addresses of the rows that differ. */
  readonly rows: number[];
  /** What is said where not all of them are shown; empty where they are. */
  readonly cut: string;
}

/** Most rows; what lies beyond is counted, not shown. */
const maxRows = 4096;

/** @param pageBytes of the chip that the left image is for. */
export function hexDifference(left: Image, right: Image, pageBytes: number): HexDifference {
  const difference = compareImages(left, right);
  const rows = differingRows(difference, maxRows);
  return {
    isEqual: difference.equal,
    bytes: grouped(difference.differingBytes),
    pages: String(differingPages(difference, pageBytes).length),
    rows: [...rows],
    cut: rows.length === maxRows ? `The first ${maxRows} rows are shown.` : '',
  };
}

export interface HexRow {
  readonly address: string;
  /** This image, and the other below. */
  readonly sides: readonly (readonly {readonly text: string; readonly differs: boolean}[])[];
}

export function hexRowSheet(left: Image, right: Image, address: number): HexRow {
  const row = hexRow(left, right, address);
  const sides = [row.left, row.right].map((side) =>
    side.map((byte, i) => ({text: byte === null ? '··' : hexOf(byte, 2), differs: row.left[i] !== row.right[i]})),
  );
  return {address: addressText(address), sides};
}

/** Pieces of an image as a file tells them, joined to segments. Shared by the readers of all formats. */
import type {Image, ImageFault, ImageNote, Segment} from './image';

export interface Piece {
  readonly start: number;
  readonly bytes: Uint8Array;
  /** Line or block that told it. */
  readonly line: number;
}

export const hexOf = (value: number, digits: number): string => value.toString(16).toUpperCase().padStart(digits, '0');

/** The highest address plus one that any format can name. */
export const addressEnd = 0x1_0000_0000;

/** The fault of a piece that reaches beyond 32 bits; undefined when it does not. */
export function rangeFault({start, bytes, line}: Piece): ImageFault | undefined {
  if (start + bytes.length <= addressEnd) return undefined;
  return {line, kind: 'out-of-range', text: `Address ${hexOf(start, 8)} is beyond 32 bits.`};
}

/**
 * Joins neighbours. Bytes told twice must agree: a conflict is a fault and the earlier line wins; agreement is a note.
 * The segments are fresh copies, sorted, and neither touch nor overlap.
 */
export function joinPieces(pieces: readonly Piece[]): {image: Image; faults: ImageFault[]; notes: ImageNote[]} {
  const sorted = [...pieces].sort((a, b) => a.start - b.start || a.line - b.line);
  const segments: Segment[] = [];
  const faults: ImageFault[] = [];
  const notes: ImageNote[] = [];
  let run: Piece[] = [];
  let runEnd = -1;
  const close = () => {
    if (run.length) segments.push(joinRun(run, runEnd, faults, notes));
    run = [];
  };
  for (const piece of sorted) {
    if (piece.start > runEnd) {
      close();
      runEnd = piece.start;
    }
    run.push(piece);
    runEnd = Math.max(runEnd, piece.start + piece.bytes.length);
  }
  close();
  return {image: {segments}, faults, notes};
}

function joinRun(run: readonly Piece[], end: number, faults: ImageFault[], notes: ImageNote[]): Segment {
  const start = run[0]!.start;
  const bytes = new Uint8Array(end - start);
  const told = new Uint8Array(end - start);
  for (const piece of [...run].sort((a, b) => a.line - b.line)) {
    let repeated = false;
    let conflict = false;
    piece.bytes.forEach((value, i) => {
      const at = piece.start - start + i;
      if (told[at]) {
        repeated = true;
        conflict ||= bytes[at] !== value;
        return;
      }
      bytes[at] = value;
      told[at] = 1;
    });
    const where = `Address ${hexOf(piece.start, 8)} is told twice`;
    if (conflict) faults.push({line: piece.line, kind: 'conflicting-overlap', text: `${where} with different bytes.`});
    else if (repeated) notes.push({line: piece.line, text: `${where} with the same bytes.`});
  }
  return {start, bytes};
}

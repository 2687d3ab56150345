/** Pieces of an image as a file tells them, joined to segments. Shared by the readers of all formats. */
import {hexOf} from '../../hex';
import type {Image, ImageFault, ImageNote, ImageReading, Segment} from '../image';
import {grouped} from '../../words/grouped';

interface Piece {
  readonly start: number;
  readonly bytes: Uint8Array;
  /** Line or block that told it. */
  readonly line: number;
}

/** The highest address plus one that any format can name. */
export const addressEnd = 0x1_0000_0000;

/** Faults, and notes, that are listed one by one. */
export const maxFaults = 1_000;

/** Gathers what a reader finds, through one door for every piece, and makes the reading of it. */
export class ImageCollector {
  private readonly pieces: Piece[] = [];
  private readonly faults: ImageFault[] = [];
  private unlisted = 0;
  private lastLine = 0;

  /** Takes a piece; one that reaches beyond 32 bits is a fault instead, an empty one is nothing. */
  add(piece: Piece): void {
    const {start, bytes, line} = piece;
    if (start + bytes.length > addressEnd)
      this.fault({line, kind: 'out-of-range', text: `Address ${hexOf(start, 8)} is beyond 32 bits.`});
    else if (bytes.length) this.pieces.push(piece);
  }

  /** Lists a fault. Beyond {@link maxFaults} they are only counted: nobody reads a million of them. */
  fault(fault: ImageFault): void {
    this.lastLine = Math.max(this.lastLine, fault.line);
    if (this.faults.length < maxFaults) this.faults.push(fault);
    else this.unlisted++;
  }

  /** The image, its faults in the order of their lines, and its notes. */
  finish(): ImageReading {
    const {image, faults, notes} = joinPieces(this.pieces);
    for (const fault of faults) this.fault(fault);
    const listed = [...this.faults].sort((a, b) => a.line - b.line);
    if (this.unlisted)
      listed.push({
        line: this.lastLine,
        kind: 'more-faults',
        text: `${grouped(this.unlisted)} more faults are not listed, the last near here.`,
      });
    return {image, faults: listed, notes: notes.slice(0, maxFaults)};
  }
}

/**
 * Joins neighbours. Bytes told twice must agree: a conflict is a fault and the earlier line wins; agreement is a note.
 * The segments are fresh copies, sorted, and neither touch nor overlap.
 */
function joinPieces(pieces: readonly Piece[]): {image: Image; faults: ImageFault[]; notes: ImageNote[]} {
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
    const where = `Address ${hexOf(piece.start, 8)} is given twice`;
    if (conflict) faults.push({line: piece.line, kind: 'conflicting-overlap', text: `${where} with different bytes.`});
    else if (repeated) notes.push({line: piece.line, text: `${where} with the same bytes.`});
  }
  return {start, bytes};
}

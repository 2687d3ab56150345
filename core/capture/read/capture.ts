/** A capture of wires: when each changed its level. What every reader of a file makes, and every analysis takes. */

export type Level = 0 | 1;

export interface Wire {
  /** Scopes and name, joined by dots. */
  readonly name: string;
  /** Other names that the file gives the same wire: a port of a module inside, say. */
  readonly also?: readonly string[];
  /** Level from the beginning until the first edge; undefined for a wire that never had one. */
  readonly first: Level | undefined;
  /** Time of each change to the other level, s, rising. */
  readonly edges: Float64Array;
  /** Spans in which nobody knew the level (x, z), s: pairs of begin and end. */
  readonly unknown: Float64Array;
}

export interface CaptureFault {
  /** Line of the file, counted from 1. */
  readonly line: number;
  readonly meaning: string;
}

export interface Capture {
  readonly wires: readonly Wire[];
  /** First and last moment of the file, s. */
  readonly from: number;
  readonly to: number;
  /** What could not be read as it stands, the first of them. */
  readonly faults: readonly CaptureFault[];
  /** How many there were. */
  readonly faultCount: number;
}

/** Faults that are told one by one. */
export const maxFaults = 50;

/** A text of captures, fed piece by piece. */
export interface CaptureReader {
  push(bytes: Uint8Array): void;
  end(): Capture;
}

/** Level after so many edges. */
export const levelAfter = ({first = 0}: Pick<Wire, 'first'>, edges: number): Level =>
  (edges % 2 === 0 ? first : 1 - first) as Level;

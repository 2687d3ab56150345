/** Files that are kept as they are. */

/** An image file of one's own, or one read out of an ESC. */
export interface OwnFile {
  readonly sha256: string;
  readonly name: string;
  /** Epoch ms. */
  readonly addedAt: number;
  readonly origin: 'file' | 'backup';
  /** Address of the first byte, for raw bytes. */
  readonly base?: number;
  readonly file: Uint8Array;
}

/** A flight log, kept with the craft it was recorded on. */
export interface KeptLog {
  readonly id: string;
  readonly craftId: string;
  readonly name: string;
  /** Epoch ms. */
  readonly addedAt: number;
  /** The CSV file as it was opened. */
  readonly file: Uint8Array;
}

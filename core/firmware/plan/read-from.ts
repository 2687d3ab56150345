/** Where the application of an ESC was read out, and what a work order hands over to be kept. */

/** An ESC that a file was read out of, whole. */
export interface ReadFrom {
  /** Serial burnt into its chip. */
  readonly serial: string;
  /** Epoch ms. */
  readonly at: number;
  /** Its settings page at that moment, hex. */
  readonly page: string;
}

/** What a work order hands over to be kept. */
export interface KeptApplication {
  readonly output: number;
  readonly serial: string;
  readonly chip: string;
  /** From the first address of the application to its last. */
  readonly bytes: Uint8Array;
  readonly settingsPage: Uint8Array;
}

/** A sentence about what was found or planned, with a word that says how it stands. */
export interface Remark {
  /** How it is marked: a deviation, something to wait for, something planned, or right. */
  readonly tag: 'diff' | 'wait' | 'plan' | 'ok';
  readonly word: string;
  readonly text: string;
}

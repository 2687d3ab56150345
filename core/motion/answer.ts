/** A value that a trace tells, with how far it may be off, or why it cannot tell. */

export interface Told {
  readonly value: number;
  /** The truth lies from `low` to `high` nineteen times out of twenty. */
  readonly low: number;
  readonly high: number;
}

export interface Untold {
  readonly value: undefined;
  readonly reason: string;
  /** It was seen that the value is not less. */
  readonly atLeast?: number;
}

export type Answer = Told | Untold;

export const untold = (reason: string): Untold => ({value: undefined, reason});
export const told = (value: number, either: number): Told => ({value, low: value - either, high: value + either});

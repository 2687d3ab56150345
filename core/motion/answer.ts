/** An estimate from a trace with its bounds, or why there is none. */

export interface Estimate {
  readonly value: number;
  /** The truth lies from `low` to `high` nineteen times out of twenty. */
  readonly low: number;
  readonly high: number;
}

interface NoEstimate {
  readonly value: undefined;
  readonly reason: string;
  /** It was seen that the value is not less. */
  readonly atLeast?: number;
}

export type Answer = Estimate | NoEstimate;

export const noEstimate = (reason: string): NoEstimate => ({value: undefined, reason});
export const estimateOf = (value: number, either: number): Estimate => ({
  value,
  low: value - either,
  high: value + either,
});

/** What a hold sees of its motor, report by report. */
export interface SpeedSample {
  /** Seconds on any clock. */
  readonly atS: number;
  readonly rpm: number;
  /** Commanded throttle, 0…1. */
  readonly throttle: number;
}

/** Throttle as the analog pulse it would be: 1000…2000 µs. */
export const pulseUs = (throttle: number): number => 1000 + 1000 * throttle;

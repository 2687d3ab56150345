/** What a speed trace says: where a motor starts and how fast it falls after a throttle cut. */

export interface SpeedSample {
  /** Seconds on any clock. */
  readonly atS: number;
  readonly rpm: number;
  /** Commanded throttle, 0…1. */
  readonly throttle: number;
}

/** Throttle as the analog pulse it would be: 1000…2000 µs. */
export const pulseUs = (throttle: number): number => 1000 + 1000 * throttle;

/**
 * Pulse in µs at which the motor turns steadily: the command under the first of `steady` samples in a row above `rpm`.
 * Undefined when it never does.
 */
export function startThreshold(trace: readonly SpeedSample[], {rpm = 100, steady = 3} = {}): number | undefined {
  for (let i = 0; i + steady <= trace.length; i++) {
    const run = trace.slice(i, i + steady);
    if (run.every((s) => s.rpm > rpm && s.throttle > 0)) return pulseUs(run[0]!.throttle);
  }
  return undefined;
}

/**
 * Seconds from the throttle cut until the speed is 37 % of what it was, interpolated between samples.
 * Undefined when the trace has no cut from a turning motor or ends before.
 */
export function coastDown(trace: readonly SpeedSample[]): number | undefined {
  let cut = -1;
  for (let i = 1; i < trace.length; i++)
    if (trace[i]!.throttle === 0 && trace[i - 1]!.throttle > 0 && trace[i - 1]!.rpm > 300) cut = i - 1;
  if (cut < 0) return undefined;
  const start = trace[cut]!;
  const goal = start.rpm * 0.37;
  for (let i = cut + 1; i < trace.length; i++) {
    const [a, b] = [trace[i - 1]!, trace[i]!];
    if (b.rpm <= goal) {
      const part = a.rpm === b.rpm ? 1 : (a.rpm - goal) / (a.rpm - b.rpm);
      return a.atS + part * (b.atS - a.atS) - start.atS;
    }
  }
  return undefined;
}

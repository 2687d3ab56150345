/** Motor lines that the log's rate cannot hold: beyond half of it they come back mirrored, into the band that is looked at. */
import type {FlightLog} from '../flight/flight-log';

export interface AliasedLine {
  /** Multiple of motor speed. */
  readonly order: number;
  /** Where the fastest motor's line lies at most, Hz. */
  readonly highestHz: number;
  /** Lowest frequency that it comes back at, Hz. */
  readonly lowestImageHz: number;
  /** Share of the flight for which it lies beyond half the rate, 0…1. */
  readonly share: number;
}

/** Shorter than this it is no line, share of the flight. */
const minShare = 0.002;

/** Where a sampled frequency is seen, Hz. */
export const imageOf = (hz: number, rateHz: number): number => Math.abs(hz - rateHz * Math.round(hz / rateHz));

/** @param motorsHz revolutions per second, one column per motor. */
export function aliasedLines(
  {sampleRateHz}: Pick<FlightLog, 'sampleRateHz'>,
  motorsHz: readonly Float32Array[],
  orders: readonly number[],
): AliasedLine[] {
  return orders.flatMap((order): AliasedLine[] => {
    let [beyond, all, highest, lowest] = [0, 0, 0, Infinity];
    for (const speeds of motorsHz)
      for (const speed of speeds) {
        const hz = order * speed;
        all++;
        if (hz <= sampleRateHz / 2) continue;
        beyond++;
        highest = Math.max(highest, hz);
        lowest = Math.min(lowest, imageOf(hz, sampleRateHz));
      }
    const share = beyond / Math.max(1, all);
    return share > minShare ? [{order, highestHz: highest, lowestImageHz: lowest, share}] : [];
  });
}

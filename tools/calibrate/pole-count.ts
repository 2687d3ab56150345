/** How often an estimate is right on drawn flights whose truth is known, with the bound that so many draws give. */
import {drawnFlight, knownFlight} from '@core/testing/known-flight';
import {motorSpeeds} from '@core/noise/tracking/motor-speeds';
import {findPoleCount} from '@core/noise/pole-count';
import {upperBound} from '@core/replies/binomial-bound';

interface Calibration {
  readonly flights: number;
  /** Draws in which another pole count was said than is true, or none; by their number. */
  readonly wrong: readonly string[];
  /** With 95 % certainty at most this share is wrong. */
  readonly atMost: number;
}

/** Draws `flights` from `seed` on and asks each for its pole count. */
export function calibratePoleCount(flights: number, seed: number): Calibration {
  const wrong = Array.from({length: flights}, (_, i) => {
    const flight = drawnFlight(seed + i);
    const log = knownFlight(flight);
    const found = findPoleCount(log, motorSpeeds(log, 2, 2).hz, 14);
    const isRight = found.kind === 'found' && found.poles === flight.poles;
    return isRight ? [] : [`flight ${seed + i}: ${flight.poles} poles, ${JSON.stringify(found)}`];
  }).flat();
  return {flights, wrong, atMost: upperBound(wrong.length, flights)};
}

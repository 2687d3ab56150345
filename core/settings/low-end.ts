/** The low end of an ESC that takes analog pulses, against the lowest pulse that it gets. */
import {definitionOf} from './definitions';

/** What a flight controller sends for no throttle, µs (trade fact). */
export const lowestPulseUs = 1000;

/** The longest that this pulse may be for an ESC: its clock is off by as much as calibrated ends differ, µs. */
const longestUs = lowestPulseUs + (definitionOf('throttleMin').calibratedSpread ?? 0);

/** Trade fact: an ESC whose low end lies below the lowest pulse that it gets never arms. */
export const mayNeverArm = (lowEndUs: number): boolean => lowEndUs < longestUs;

export const neverArmsText = (lowEndUs: number): string =>
  `The low end is ${lowEndUs} µs, and the lowest pulse, ${lowestPulseUs} µs, may be up to ${longestUs} µs by the clock of the ESC: where every pulse lies above the low end it never arms.`;

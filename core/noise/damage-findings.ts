/** What is wrong with the log itself: before anything is said of the craft. */
import type {FlightLog} from '../flight/flight-log';
import type {Finding} from './finding';

/** Below these shares nothing that is taken from the log changes by its bounds. */
const minFilled = 0.01;
const minClipped = 1e-4;
const minJitter = 0.1;

export function damageFindings({damage, jitter = 0, dropped, sampleRateHz}: FlightLog): Finding[] {
  const found: Finding[] = [];
  if (jitter >= minJitter)
    found.push({
      ...{kind: 'jitter', evidence: 'none'},
      text:
        `The time stamps jitter by ${(jitter * 100).toFixed(0)} % of a step (root mean square). The rows are taken as evenly spaced ` +
        `at ${sampleRateHz.toFixed(0)} Hz, and the bounds of amplitudes include what the jitter can change.`,
      next: 'Write the time of the gyro sample into the log, not the time at which the row is written.',
    });
  if (damage && damage.filled >= minFilled)
    found.push({
      ...{kind: 'missing-rows', evidence: 'none'},
      text:
        `${percent(damage.filled)} of the rows are missing, at ${dropped.gaps.length} places. They were filled in to draw maps and spectra, ` +
        'which read low towards half the rate. Amplitudes use only the rows that are there.',
      next: 'Log to a faster memory or at a lower rate, and fly again before you compare flights.',
    });
  for (const {axis, atDegS, share} of damage?.clipping ?? [])
    if (share >= minClipped)
      found.push({
        ...{kind: 'clipped', axis, evidence: 'none'},
        text:
          `The gyro is at the end of its range on ${axis} (${atDegS.toFixed(0)} deg/s) in ${percent(share)} of the flight. ` +
          'Amplitudes and comparisons skip those moments; maps and spectra are wrong there.',
        next: 'Find what shakes so hard first, or give the gyro a wider range in the flight controller.',
      });
  return found;
}

const percent = (share: number): string => `${(share * 100).toPrecision(2)} %`;

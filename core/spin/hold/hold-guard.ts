/** What ends a hold besides letting go: everything that takes away the reason to believe that turning is safe and seen. */
import type {Power} from '../../link/operations';
import type {Problem} from '../../problem';
import {poweredVolts} from '../../bench/battery';

/** Reports come every 20 ms while a motor turns; without one for this long nobody knows what the motors do, ms. */
export const staleMs = 500;

export interface HoldState {
  /** ms since the last report came. */
  readonly reportAgeMs: number;
  /** Power as the last report said it; undefined when the link has ended. */
  readonly power: Power | undefined;
  /** Power cycle for which a person said that the propellers are off. */
  readonly propsOffCycle: number | undefined;
  /** Whether the page can be seen. */
  readonly isVisible: boolean;
}

/** Why a hold must end now, whatever made it; undefined while it may go on. */
export function whyHoldEnds({reportAgeMs, power, propsOffCycle, isVisible}: HoldState): Problem | undefined {
  if (!power) return ended('link-lost', 'The connection to the bench ended.', 'Connect again, then hold again.');
  if (power.volts <= poweredVolts)
    return ended(
      'power-lost',
      'The battery went off.',
      'Connect it, confirm that the propellers are off, then hold again.',
    );
  if (propsOffCycle !== power.cycles)
    return ended(
      'props-not-confirmed',
      'The battery was off in between, so the propellers have not been confirmed for this power-up.',
      'Confirm that the propellers are off, then hold again.',
    );
  if (reportAgeMs > staleMs)
    return ended('reports-stale', 'No report came from the bench any more.', 'Check the cable, then hold again.');
  if (!isVisible)
    return ended('page-hidden', 'The page was hidden, so the motors could not be watched.', 'Hold again.');
  return undefined;
}

const ended = (code: string, meaning: string, remedy: string): Problem =>
  holdEnded({code, place: 'hold', meaning, remedy});

/** A problem that ended a hold, with what that means for the motors. */
export const holdEnded = (problem: Problem): Problem => ({
  ...problem,
  meaning: `${problem.meaning} The hold has ended and the motors stop.`,
});

/** Waits until an ESC answers on the wire of a single-wire adapter: it has power only when a person connects the battery. */
import {sleep, type Clock} from '../link/port';
import {ProblemError} from '../problem';
import type {EscWire} from './esc-access';
import {enterEsc} from './survey';

/** So long a hand has for the clip and the battery, ms. */
export const waitForEscMs = 60_000;
/** The wire is asked again after this, ms. */
const askAgainMs = 400;

interface WaitOptions {
  readonly clock: Clock;
  /** Ends the wait when it is set. */
  readonly cancel: {readonly aborted: boolean};
  /** Whole seconds left, whenever the wire was silent. */
  readonly onSilent: (secondsLeft: number) => void;
}

/**
 * Asks the wire until an ESC answers, whose bootloader then runs. Silence is no error.
 * @returns false when nobody came in time, or the wait was ended.
 * @throws ProblemError when what is on the wire has power but no bootloader, or the link ended.
 */
export async function waitForEsc(wire: EscWire, {clock, cancel, onSilent}: WaitOptions): Promise<boolean> {
  const until = clock.now() + waitForEscMs;
  while (!cancel.aborted) {
    try {
      await enterEsc(wire);
      return true;
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'no-power') throw error;
    }
    const leftMs = until - clock.now();
    if (leftMs <= 0) return false;
    onSilent(Math.ceil(leftMs / 1000));
    await sleep(clock, askAgainMs);
  }
  return false;
}

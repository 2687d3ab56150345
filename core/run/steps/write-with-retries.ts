/** One page, written again when it fails its check, before the ESC is given up. */
import type {Chip} from '../../firmware/chips';
import type {PlannedPage} from '../../firmware/plan/page-plan';
import {addressText} from '../../hex';
import {ProblemError} from '../../problem';
import {writePage, type EscWire} from '../../bench/esc-access';
import {stop, type RunContext} from '../run-context';
import type {Step} from '../../order/steps';

/** A page that fails its check is written again this many times before the ESC is given up. */
export const pageRetries = 2;

interface PageToWrite {
  readonly chip: Chip;
  readonly wire: EscWire;
  readonly page: Pick<PlannedPage, 'address' | 'bytes'>;
  readonly step: Step;
  /** What the ESC does when this page cannot be written, in words. */
  readonly left: string;
}

export async function writeWithRetries(
  run: RunContext,
  {chip, wire, page, step, left}: PageToWrite,
  report?: (written: number) => void,
): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    try {
      return await writePage(wire, chip, page, report);
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'page-check') throw error;
      if (attempt < pageRetries) {
        await run.note(
          step,
          'retry',
          `Page ${addressText(page.address)} of ${wire.name} failed its check; trying again.`,
        );
        continue;
      }
      throw stop(
        'page-check',
        wire.name,
        `Page ${addressText(page.address)} failed its check ${pageRetries + 1} times: the flash is worn. ${left}`,
        'Resume to try again. If it fails again, replace this ESC.',
      );
    }
  }
}

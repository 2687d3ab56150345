/** What a survey read of an ESC that an order is about: nothing is concluded of one that was not read. */
import {foundEsc, type Found, type FoundEsc} from '../../bench/found';
import {ProblemError} from '../../problem';
import {otherEsc, type RunContext} from '../run-context';

/**
 * The ESC of the order on `output`, as `found` read it.
 * @throws ProblemError why it was silent, or that another one answered on its output.
 */
export function sameEsc(run: RunContext, found: Found, output: number): FoundEsc {
  const now = foundEsc(found, output);
  if (!now) throw new ProblemError(found.silent.find((s) => s.output === output)!.problem);
  if (now.boot.serial === foundEsc(run.order.found, output)?.boot.serial) return now;
  // What is there now is shown.
  run.found = found;
  throw otherEsc(`motor ${output + 1}`);
}

import {foundEsc} from '../../bench/found';
import {whoAnswers} from '../../bench/who-answers';
import {otherEsc, type RunContext} from '../run-context';

/** Who was measured, output by output. Throws where one is not the ESC that the order was made for. */
export async function sameEscs(run: RunContext, outputs: number): ReturnType<typeof whoAnswers> {
  const on = await whoAnswers(
    run.client,
    Array.from({length: outputs}, (_, output) => output),
  );
  const swapped = on.find(({output, serial}) => foundEsc(run.order.found, output)?.boot.serial !== serial);
  if (swapped) throw otherEsc(`motor ${swapped.output + 1}`);
  return on;
}

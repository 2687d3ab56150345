/** Random work orders against random mishaps: `bidex drill`. Counted on standard error as it goes, one JSON answer. */
import {benches} from '@simulator/benches/benches';
import {sumOf} from '../drill/counters';
import {drill} from '../drill/drill';
import {outcome, runsAndSeed, UsageError, type Run} from './command';

export const run: Run = async ({options}) => {
  const {runs, seed} = runsAndSeed(options);
  const craft = options.get('--craft') ?? '';
  if (!(craft in benches)) throw new UsageError();
  const onRun = (done: number) => done % 100 === 0 && process.stderr.write(`${done} of ${runs}\n`);
  const {report, notes} = await drill({craft, runs, seed, onRun});
  process.stderr.write(`${JSON.stringify(notes)}\n`);
  return outcome({ok: sumOf(report) === 0, value: report});
};

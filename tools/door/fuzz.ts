/** Mutated input: `bidex fuzz`. Counted on standard error as it goes, one JSON answer. */
import {fuzz, fuzzKinds} from '../fuzz/fuzz';
import {outcome, runsAndSeed, UsageError, type Run} from './command';

export const run: Run = async ({options}) => {
  const {runs, seed} = runsAndSeed(options);
  const kind = options.get('--of') ?? 'images';
  if (!fuzzKinds.includes(kind)) throw new UsageError(`--of is one of ${fuzzKinds.join(', ')}.`);
  const onRun = (done: number) => done % 10_000 === 0 && process.stderr.write(`${done} of ${runs}\n`);
  const value = await fuzz(kind, {runs, seed, onRun});
  return outcome({ok: value.throws + value.tooLarge === 0, value});
};

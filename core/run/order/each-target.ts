/** A write to the settings of several ESCs side by side; those that were isolated are left alone. */
import type {Chip} from '../../firmware/chips';
import {motorList} from '../../words/motor-list';
import type {Step, StepTarget} from '../../order/steps';
import {eachEsc} from '../steps/isolate';
import type {RunContext} from '../run-context';

export async function eachTarget<T extends StepTarget>(
  run: RunContext,
  step: Step & {readonly targets: readonly T[]},
  write: (chip: Chip, target: T) => Promise<void>,
): Promise<void> {
  const targets = step.targets.filter((t) => !run.isIsolated(t));
  let done = 0;
  await eachEsc(
    run,
    targets.map((target) => ({
      step,
      output: target.output,
      work: async () => {
        run.checkCancel();
        run.progress(step, done / targets.length, `Motor ${target.output + 1}: settings`, {output: target.output});
        await write(await run.enter(target), target);
        await run.leave(target);
        done++;
      },
    })),
  );
  const motors = motorList(
    targets.filter((t) => !run.isIsolated(t)).map((t) => t.output),
    run.order.found.escs.length,
  );
  await run.end(step, `Settings written and checked on ${motors}.`);
}

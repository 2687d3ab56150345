/** Reads everything right before anything is written, and refuses a bench that changed meanwhile. */
import * as z from 'zod';
import {survey} from '../../bench/survey';
import {motorList} from '../../words/motor-list';
import {longestSurveyMs} from '../../order/estimated-time';
import {stepText} from '../../order/step-schemas';
import type {StepOf} from '../../order/steps';
import {outputSchema} from '../../schemas';
import {ProblemError} from '../../problem';
import {changedSince, foundChanged, snapshotOf} from '../resume/changed-bench';
import type {RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    snapshot: {readonly outputs: readonly number[]};
  }
}

const step = {id: 'snapshot', kind: 'snapshot', title: 'Take a snapshot'} as const;

export const snapshot: RunnableKind<'snapshot'> = {
  kind: 'snapshot',
  shape: z.object({...stepText, kind: z.literal('snapshot'), outputs: z.array(outputSchema)}),
  plan({found, works}) {
    if (found.road !== 'controller') return [];
    const escs = works.map((w) => w.order.esc);
    const outputs = escs.map((e) => e.output);
    const note = outputs.length ? `${outputs.length} ESCs and the flight controller` : 'the flight controller';
    return [{...step, note, outputs, estimateMs: longestSurveyMs(escs)}];
  },
  inverse({before, escs}) {
    const outputs = escs.map((e) => e.before.output);
    return [{...step, note: motorList(outputs, before.escs.length), outputs, estimateMs: 8_000}];
  },
  touches: () => [],
  run: (run, [first]) => takeSnapshot(run, first),
};

async function takeSnapshot(run: RunContext, step: StepOf<'snapshot'>): Promise<void> {
  await run.note(step, 'begin', 'Reading everything before anything is written.');
  const found = await survey(run.client, {
    at: run.host.today(),
    known: run.known,
    onProgress: (share, text) => run.progress(step, share, text),
  });
  // An ESC without power was not changed by anybody: it is silent.
  const silent = found.silent.find((s) => step.outputs.includes(s.output) && s.problem.code === 'no-power');
  if (silent) throw new ProblemError(silent.problem);
  const changed = changedSince(run.order.found, found, step.outputs);
  if (changed) {
    // What is there now is shown; the next order is made from it.
    run.found = found;
    throw foundChanged(changed.place, changed.what);
  }
  const snapshot = found.escs.map(snapshotOf);
  await run.note(step, 'done', `Snapshot of ${snapshot.length} ESCs and the flight controller.`, {snapshot});
}

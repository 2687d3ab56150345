/** Measures the replies of every ESC while a person holds. */
import * as z from 'zod';
import {findDifferences} from '../../compare/difference';
import {stepText} from '../../order/step-schemas';
import type {StepOf} from '../../order/steps';
import {groundsOfRow} from '../../bench/grounds';
import {judgeReplies} from '../../replies/replies';
import {repliesRow} from '../../spin/verdict/proof-rows';
import {replyProof} from '../../spin/replies/reply-proof';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {sameEscs} from '../steps/same-escs';

declare module '../../order/steps' {
  interface StepShapes {
    'prove-replies': {readonly outputs: number; readonly poles: number};
  }
}

export const proveReplies: RunnableKind<'prove-replies'> = {
  kind: 'prove-replies',
  shape: z.object({
    ...stepText,
    kind: z.literal('prove-replies'),
    outputs: z.number().int().min(1).max(16),
    poles: z.number().int().min(2),
  }),
  plan({craft: {plan, arms}, found, leftOut, leaveSteps}) {
    if (found.road !== 'controller' || leftOut || !plan.controller.replies) return [];
    // Replies can be proven when nothing that makes them was left out.
    const lacksController = leaveSteps.includes('set-controller') && findDifferences(plan, found).controller.length > 0;
    if (lacksController || leaveSteps.includes('write-firmware') || leaveSteps.includes('prove-replies')) return [];
    return [
      {
        id: 'prove-replies',
        kind: 'prove-replies',
        title: 'Prove the replies',
        note: 'you hold: idle, 30 % and 60 %, 2 s each',
        outputs: arms.length,
        poles: plan.controller.poles,
        estimateMs: 9_000,
      },
    ];
  },
  inverse: () => [],
  touches: () => [],
  follows: ['loader', 'firmware', 'settings', 'controller'],
  leavable: 'Proving the replies',
  forPerson: true,
  needsEveryEsc: true,
  run: (run, [step]) => measure(run, step),
};

async function measure(run: RunContext, step: StepOf<'prove-replies'>): Promise<void> {
  await run.note(step, 'begin', 'Waiting for a person to hold.');
  run.progress(step, 0, 'Hold the button: idle, 30 %, 60 %, 2 s each.', {waitsFor: 'hold'});
  const measures = await run.host.measureReplies(step, run.host.cancel);
  const on = await sameEscs(run, step.outputs);
  const {cycles} = await run.client.request('power', null);
  const verdict = judgeReplies(measures);
  const grounds = groundsOfRow(repliesRow, run.groundsQuestion());
  const record = replyProof(measures, on, {at: run.host.today(), session: run.host.session, cycles, grounds});
  await run.note(step, verdict.holds ? 'done' : 'stopped', verdict.text, record && {proof: record});
  if (verdict.holds) return;
  throw stop('proof-failed', 'replies', verdict.text, verdict.remedy);
}

/**
 * Measures again how every motor moves, where that was measured before and this order takes it away: the person who
 * holds for the replies holds on.
 */
import * as z from 'zod';
import {stepText} from '../../order/step-schemas';
import type {StepOf} from '../../order/steps';
import {groundsOfRow} from '../../bench/grounds';
import {cardSeconds} from '../../spin/script/script-run';
import type {MeasuredBefore} from '../../proof/standing';
import {motionProof, verdictOnCard} from '../../spin/verdict/motion-proof';
import {motionRow} from '../../spin/verdict/proof-rows';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {sameEscs} from '../steps/same-escs';

declare module '../../order/steps' {
  interface StepShapes {
    'prove-motion': {readonly outputs: number};
  }
}

export const proveMotion: RunnableKind<'prove-motion'> = {
  kind: 'prove-motion',
  shape: z.object({...stepText, kind: z.literal('prove-motion'), outputs: z.number().int().min(1).max(16)}),
  plan({craft, found, leftOut, leaveSteps, measured}) {
    if (found.road !== 'controller' || leftOut || !craft.plan.controller.replies || !before(measured)) return [];
    if (leaveSteps.includes('write-firmware') || leaveSteps.includes('prove-motion')) return [];
    const seconds = Math.ceil(cardSeconds(craft));
    return [
      {
        id: 'prove-motion',
        kind: 'prove-motion',
        title: 'Prove how the motors move',
        note: `you hold on: each motor alone, then steps up to 30 %, ${seconds} s`,
        outputs: craft.arms.length,
        estimateMs: (seconds + 2) * 1000,
      },
    ];
  },
  onlyWith: ({measured}) => (before(measured)?.isLost ? undefined : ['firmware', 'settings']),
  inverse: () => [],
  touches: () => [],
  follows: ['loader', 'firmware', 'settings'],
  leavable: 'Proving how the motors move',
  forPerson: true,
  needsEveryEsc: true,
  run: (run, [step]) => measure(run, step),
};

const before = (measured: readonly MeasuredBefore[]): MeasuredBefore | undefined =>
  measured.find(({kind}) => kind === 'motion');

async function measure(run: RunContext, step: StepOf<'prove-motion'>): Promise<void> {
  await run.note(step, 'begin', 'Waiting for a person to hold.');
  run.progress(step, 0, 'Hold on: each motor alone, then steps up to 30 %.', {waitsFor: 'hold'});
  const {host} = run;
  const found = run.found ?? run.order.found;
  const measured = await host.measureMotion(step, host.cancel);
  const on = await sameEscs(run, step.outputs);
  const {cycles} = await run.client.request('power', null);
  const verdict = verdictOnCard(measured, {...host.craft, plan: run.order.plan}, found);
  const grounds = groundsOfRow(motionRow, run.groundsQuestion());
  const proof = motionProof(verdict, on, {at: host.today(), session: host.session, cycles, grounds});
  await run.note(step, verdict.holds ? 'done' : 'stopped', verdict.text, proof && {proof});
  if (!verdict.holds)
    throw stop('proof-failed', 'motion', `${verdict.text}.`, 'Look at the run on the Spin station, then resume.');
}

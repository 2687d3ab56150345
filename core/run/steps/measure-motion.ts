import {groundsOfRow} from '../../bench/grounds';
import type {StepOf} from '../../order/steps';
import {motionProof, verdictOnCard} from '../../spin/verdict/motion-proof';
import {motionRow} from '../../spin/verdict/proof-rows';
import {stop, type RunContext} from '../run-context';
import {sameEscs} from './same-escs';

/** A card of every motor, while a person holds on. */
export async function measureMotion(run: RunContext, step: StepOf<'prove-motion'>): Promise<void> {
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

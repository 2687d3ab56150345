/** After writing: the battery goes off and on again, by the person's hand. */
import * as z from 'zod';
import {poweredVolts} from '../../bench/battery';
import {sleep} from '../../link/port';
import {stepText} from '../../order/step-schemas';
import type {StepOf} from '../../order/steps';
import type {JournalEntry} from '../journal';
import type {RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    'cycle-battery': unknown;
  }
}

const step: StepOf<'cycle-battery'> = {
  id: 'cycle',
  kind: 'cycle-battery',
  title: 'Cycle the battery',
  note: 'you, when asked',
  estimateMs: 8_000,
};

export const cycleBattery: RunnableKind<'cycle-battery'> = {
  kind: 'cycle-battery',
  shape: z.object({...stepText, kind: z.literal('cycle-battery')}),
  // A visit on an adapter may change settings only: they too are read when an ESC starts.
  plan: ({found, works}) =>
    found.plugged === undefined &&
    works.some((w) => w.writes.length > 0 || (found.road === 'single-wire' && w.settings))
      ? [step]
      : [],
  inverse: ({escs}) => (escs.some((e) => e.images.some((write) => write.pages > 0)) ? [step] : []),
  touches: () => [],
  forPerson: true,
  follows: ['firmware'],
  run: (run, [first], entries) => waitForCycle(run, first, entries),
};

async function waitForCycle(
  run: RunContext,
  step: StepOf<'cycle-battery'>,
  entries: readonly JournalEntry[],
): Promise<void> {
  // A cycle that ended in part was for the ESCs that went well; one that was isolated and written since needs its own, and so
  // does what was written once more.
  const told: readonly JournalEntry['event'][] = ['begin', 'part', 'reopened'];
  const last = entries.findLast((e) => e.stepId === step.id && told.includes(e.event));
  const begun = last?.event === 'begin' ? last : undefined;
  const before = begun?.cycles ?? (await run.client.request('power', null)).cycles;
  if (!begun) await run.note(step, 'begin', 'Waiting for the battery to go off and on.', {cycles: before});
  for (;;) {
    run.checkCancel();
    const power = await run.client.request('power', null);
    const on = power.volts > poweredVolts;
    if (power.cycles !== before && on) break;
    const text = on ? 'Take the battery off.' : 'Now connect the battery again.';
    run.progress(step, on ? 0 : 0.5, text, {waitsFor: 'battery'});
    await sleep(run.host.clock, 200);
  }
  // The ESCs start up and sound their tones before they answer again.
  await sleep(run.host.clock, 600);
  await run.end(step, 'The battery went off and on again.');
}

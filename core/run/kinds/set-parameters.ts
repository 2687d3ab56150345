/** Carries settings over to the layout that will run, with the plan on top. */
import * as z from 'zod';
import {describeChanges} from '../../compare/difference';
import {motorList} from '../../words/motor-list';
import {settingsMs} from '../../order/estimated-time';
import {changesSchema, settingsTargetSchema, stepText} from '../../order/step-schemas';
import type {ChangeText, SettingsTarget, StepOf} from '../../order/steps';
import type {PlanQuestion} from '../../order/step-kind';
import {eachTarget} from '../order/each-target';
import {leavesValues} from '../resume/leaves-values';
import type {RunnableKind} from '../steps/runnable-kind';
import {writeSettings} from '../steps/write-settings';

declare module '../../order/steps' {
  interface StepShapes {
    'set-parameters': {readonly targets: readonly SettingsTarget[]; readonly changes: readonly ChangeText[]};
  }
}

export const setParameters: RunnableKind<'set-parameters'> = {
  kind: 'set-parameters',
  shape: z.object({
    ...stepText,
    kind: z.literal('set-parameters'),
    targets: z.array(settingsTargetSchema),
    changes: changesSchema,
  }),
  plan: (question) => (question.found.road === 'controller' ? planned(question) : []),
  inverse: () => [],
  touches: ({targets}) => targets.map(({output}) => ({of: 'settings', at: output})),
  leaves: ({targets}, esc) =>
    leavesValues(
      targets.find((t) => t.output === esc.output),
      esc,
    ),
  leavable: 'Setting parameters',
  async run(run, [step], entries) {
    await run.note(step, 'begin', 'Writing settings pages; the pages before are in the snapshot.');
    await eachTarget(run, step, (chip, target) => writeSettings(run, chip, {step, target, entries}));
  },
};

function planned({craft, works}: PlanQuestion): StepOf<'set-parameters'>[] {
  const all = craft.arms.length;
  const targets = works.flatMap((w) => (w.settings ? [w.settings] : []));
  if (!targets.length) return [];
  const isCarried = works.some((w) => w.writes.length > 0);
  const motors = motorList(
    targets.map((t) => t.output),
    all,
  );
  const layouts = [...new Set(targets.map((t) => t.layout))].join(' and ');
  return [
    {
      id: 'parameters',
      kind: 'set-parameters',
      title: isCarried ? 'Convert the settings' : 'Set parameters',
      note: `${isCarried ? `to layout ${layouts}, then apply the plan, ` : ''}${motors}`,
      targets,
      changes: [
        ...describeChanges(
          works.flatMap((w) => w.changes),
          all,
        ),
        ...melodyChanges(works, all),
      ],
      estimateMs: works.reduce((sum, w) => sum + (w.settings ? settingsMs(w.order.esc) : 0), 0),
    },
  ];
}

function melodyChanges(works: PlanQuestion['works'], all: number): ChangeText[] {
  const outputs = works.flatMap((w) => (w.melody ? [w.melody.output] : []));
  return outputs.length ? [{title: 'Start-up melody', note: motorList(outputs, all)}] : [];
}

/** Puts settings pages back byte for byte, as they were before an order. */
import {sameJson} from '../../canonical-json';
import * as z from 'zod';
import type {FoundEsc} from '../../bench/found';
import {motorList} from '../../words/motor-list';
import {stepText, targetSchema} from '../../order/step-schemas';
import type {StepTarget} from '../../order/steps';
import {melodyIn, melodyText} from '../../sounds/melody-block';
import {decodeSettings} from '../../settings/page';
import {bytesSchema} from '../../schemas';
import {eachTarget} from '../order/each-target';
import type {RunnableKind} from '../steps/runnable-kind';
import {putPage} from '../steps/write-settings';

declare module '../../order/steps' {
  interface StepShapes {
    'restore-settings': {readonly targets: readonly (StepTarget & {readonly page: Uint8Array})[]};
  }
}

export const restoreSettings: RunnableKind<'restore-settings'> = {
  kind: 'restore-settings',
  shape: z.object({
    ...stepText,
    kind: z.literal('restore-settings'),
    targets: z.array(targetSchema.extend({page: bytesSchema})),
  }),
  // Settings of others' firmware go back with it.
  plan({craft, found, works}) {
    const targets = works.flatMap(({order: {esc}, page}) =>
      page ? [{output: esc.output, serial: esc.boot.serial, page}] : [],
    );
    if (found.road !== 'controller' || !targets.length) return [];
    const motors = motorList(
      targets.map((t) => t.output),
      craft.arms.length,
    );
    const note = `as they were when its firmware was read out, ${motors}`;
    return [
      {
        id: 'restore',
        kind: 'restore-settings',
        title: 'Put the settings back',
        note,
        targets,
        estimateMs: targets.length * 1_400,
      },
    ];
  },
  inverse({before, escs}) {
    const targets = escs.map(({before: {output, boot, settingsPage}}) => ({
      output,
      serial: boot.serial,
      page: settingsPage,
    }));
    const motors = motorList(
      targets.map((t) => t.output),
      before.escs.length,
    );
    return [
      {
        id: 'restore',
        kind: 'restore-settings',
        title: 'Put the settings back',
        note: `byte for byte as before, ${motors}`,
        targets,
        estimateMs: targets.length * 1_400,
      },
    ];
  },
  touches: ({targets}) => targets.map(({output}) => ({of: 'settings', at: output})),
  leaves: ({targets}, esc) => holdsPage(targets.find((t) => t.output === esc.output)?.page, esc),
  async run(run, [step]) {
    await run.note(step, 'begin', 'Putting settings pages back as the snapshot holds them.');
    await eachTarget(run, step, (chip, target) => putPage(run, chip, {step, target, page: target.page}));
  },
};

/** Whether an ESC holds the settings of a page; one that does not read is compared by its bytes. */
function holdsPage(page: Uint8Array | undefined, {settings, settingsPage}: FoundEsc): boolean {
  const wanted = page && decodeSettings(page, settings?.variant);
  if (!wanted?.ok) return !!page && page.every((byte, i) => byte === settingsPage[i]);
  const {layout, values} = wanted.value;
  const sameMelody = melodyText(melodyIn(page!)) === melodyText(melodyIn(settingsPage));
  return layout === settings?.layout && sameJson(values, settings.values) && sameMelody;
}

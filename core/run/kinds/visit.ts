/** One ESC on a single-wire adapter: wait until it is clipped on, then snapshot, images, settings and checks in one go. */
import * as z from 'zod';
import {poweredVolts} from '../../bench/battery';
import {foundEsc, isForeign} from '../../bench/found';
import {enterEsc, surveyArm} from '../../bench/survey';
import {describeChanges} from '../../compare/difference';
import {findChip, pageWriteMs, type Chip} from '../../firmware/chips';
import {sleep} from '../../link/port';
import type {EscWork} from '../../order/esc-work';
import {keepMs, settingsMs, surveyMs} from '../../order/estimated-time';
import {
  changesSchema,
  imageToWriteSchema,
  provenTargetSchema,
  settingsTargetSchema,
  stepText,
  targetSchema,
} from '../../order/step-schemas';
import type {ChangeText, ImageToWrite, ProvenTarget, SettingsTarget, StepOf, StepTarget} from '../../order/steps';
import type {Craft} from '../../craft/craft';
import {ProblemError} from '../../problem';
import {escChanged, foundChanged, snapshotOf} from '../resume/changed-bench';
import {checkBattery} from '../steps/check-battery';
import {checkPages} from '../steps/check-pages';
import {isolate} from '../steps/isolate';
import type {JournalEntry} from '../journal';
import {holdsMelody, leavesValues} from '../resume/leaves-values';
import {lookAtArm} from '../resume/look-again';
import {stop, type RunContext} from '../run-context';
import type {RunnableKind} from '../steps/runnable-kind';
import {writeImage} from '../steps/write-image';
import {keepForeign} from '../steps/keep-foreign';
import {putPage, writeSettings} from '../steps/write-settings';
import {bytesSchema} from '../../schemas';

declare module '../../order/steps' {
  interface StepShapes {
    visit: {
      readonly target: StepTarget;
      readonly writes: readonly ImageToWrite[];
      readonly settings: SettingsTarget | undefined;
      readonly proves: ProvenTarget;
      readonly changes: readonly ChangeText[];
      /** Settings page that goes back with an application that was read out of this ESC. */
      readonly page?: Uint8Array | undefined;
    };
  }
}

export const visit: RunnableKind<'visit'> = {
  kind: 'visit',
  shape: z.object({
    ...stepText,
    kind: z.literal('visit'),
    target: targetSchema,
    writes: z.array(imageToWriteSchema),
    settings: settingsTargetSchema.optional(),
    proves: provenTargetSchema,
    changes: changesSchema,
    page: bytesSchema.optional(),
  }),
  plan: ({craft, found, works}) =>
    found.road === 'single-wire' && found.plugged === undefined
      ? works.filter((w) => w.writes.length || w.settings).map((w) => planned(craft, w))
      : [],
  inverse: () => [],
  touches: ({target: {output}}) => [
    {of: 'firmware', at: output},
    {of: 'settings', at: output},
  ],
  images: ({target, writes}) => ({target, writes}),
  leaves: ({settings}, esc) => leavesValues(settings, esc),
  forPerson: true,
  run: (run, [step], entries) => workOrIsolate(run, step, entries),
};

function planned(craft: Craft, {order: {esc}, writes, settings, proves, changes, page}: EscWork): StepOf<'visit'> {
  const pages = writes.reduce((sum, w) => sum + w.pages, 0);
  const names = writes.map((w) => w.image.name).join(', then ');
  const change = `${changes.length} ${changes.length === 1 ? 'setting' : 'settings'}`;
  const chip = findChip(esc.boot.chip)!;
  return {
    id: `visit-${esc.output}`,
    kind: 'visit',
    title: `Arm ${esc.output + 1}, ${craft.arms[esc.output]!.name}`,
    note: `${names ? `${names}: ${pages} pages; ${change}` : change}${isForeign(esc) && writes.length ? '; the firmware it came with is read and kept first' : ''}`,
    target: {output: esc.output, serial: esc.boot.serial},
    writes,
    settings,
    proves,
    changes: describeChanges(changes, craft.arms.length).map(({title}) => ({title, note: ''})),
    ...(page && {page}),
    estimateMs: pages * pageWriteMs(chip) + surveyMs(esc) + settingsMs(esc) + keepMs(esc) + 4_000,
  };
}

/** Problems of one ESC on an adapter that say nothing about the next arm. */
const alone: ReadonlySet<string> = new Set(['page-check', 'proof-failed']);

/** A visit whose ESC fails alone says nothing about the next arm. */
async function workOrIsolate(run: RunContext, step: StepOf<'visit'>, entries: readonly JournalEntry[]): Promise<void> {
  try {
    await checkBattery(run);
    await work(run, step, entries);
  } catch (error) {
    if (!(error instanceof ProblemError) || !alone.has(error.problem.code)) throw error;
    await isolate(run, {step, output: step.target.output}, error);
  }
}

async function work(run: RunContext, step: StepOf<'visit'>, entries: readonly JournalEntry[]): Promise<void> {
  const {target, settings, proves} = step;
  const place = `arm ${target.output + 1}`;
  await waitForClip(run, step);
  if (!entries.some((e) => e.stepId === step.id && e.snapshot)) await takeArmSnapshot(run, step);
  else await lookAtArm(run, step, await readBack(run, step), entries);
  await run.note(step, 'begin', `${step.title}: writing.`);
  const chip = await run.enter(target);
  const done = await writeAll(run, chip, step, entries);
  if (settings) {
    run.progress(step, 0.96, `Arm ${target.output + 1}: settings`, {output: target.output});
    await writeSettings(run, chip, {step, target: settings, entries: await run.host.journal.entries(run.order.id)});
  }
  if (step.page) await putPage(run, chip, {step, target, page: step.page});
  const check = await checkPages(run, chip, proves, (share) =>
    run.progress(step, 0.97 + 0.02 * share, `Arm ${target.output + 1}: checksums`, {output: target.output}),
  );
  await run.leave(target);
  if (check.wrong) throw stop('proof-failed', place, check.wrong.meaning, 'Resume: it is looked at again and written.');
  const found = await readBack(run, step);
  run.found = found;
  run.host.onFound?.(found);
  if (settings) {
    const now = foundEsc(found, target.output)?.settings?.values;
    const page = foundEsc(found, target.output)?.settingsPage;
    const values = Object.entries(settings.values);
    const wrong = values.find(([key, value]) => now?.[key as keyof typeof now] !== value)?.[0];
    const silent = page && !holdsMelody(settings, page) ? 'the start-up melody' : undefined;
    if (wrong ?? silent)
      throw stop(
        'proof-failed',
        place,
        `Read back, ${wrong ?? silent} is not what the plan says.`,
        'Resume: it is written again.',
      );
  }
  const text = `${done.join(' ') || `Arm ${target.output + 1}: firmware was equal.`} ${check.pages ? `${check.pages} page checksums equal the image; ` : ''}settings read back.`;
  await run.note(step, 'done', text);
  run.progress(step, 1, text);
}

/** Firmware of others is kept before the first image goes in. */
async function writeAll(
  run: RunContext,
  chip: Chip,
  step: StepOf<'visit'>,
  entries: readonly JournalEntry[],
): Promise<string[]> {
  const {target, writes} = step;
  if (writes.length) await keepForeign(run, chip, {step, target, entries});
  const done: string[] = [];
  for (const write of writes) done.push(await writeImage(run, chip, {...write, step, target, entries}));
  return done;
}

/** Reads the arm again for the record: the whole round so far, with this ESC as it is now. */
async function readBack(run: RunContext, step: StepOf<'visit'>) {
  const {output} = step.target;
  const before = run.found ?? run.order.found;
  return surveyArm(run.client, {
    at: run.host.today(),
    output,
    outputs: before.escs.length + before.silent.length,
    before,
    known: run.known,
    onProgress: (share) =>
      run.progress(step, 0.99, `Arm ${output + 1}: reading back, ${Math.round(share * 100)} %`, {output}),
  });
}

async function takeArmSnapshot(run: RunContext, step: StepOf<'visit'>): Promise<void> {
  const {output} = step.target;
  const found = await readBack(run, step);
  const now = foundEsc(found, output);
  const before = foundEsc(run.order.found, output)!;
  const changed = now ? escChanged(before, now) : 'does not answer';
  if (!now || changed) {
    run.found = found;
    throw foundChanged(`arm ${output + 1}`, changed ?? '');
  }
  await run.note(step, 'snapshot', `Snapshot of arm ${output + 1}.`, {snapshot: [snapshotOf(now)]});
}

/** Asks the wire who is there until it is the right ESC; says which one it is meanwhile. */
async function waitForClip(run: RunContext, step: StepOf<'visit'>): Promise<void> {
  const {output, serial} = step.target;
  const arm = `arm ${output + 1}`;
  for (;;) {
    run.checkCancel();
    const there = await whoIsThere(run, output);
    if (there === serial) return;
    if (there === undefined && (await run.client.request('power', null)).volts <= poweredVolts)
      throw stop('no-power', arm, 'The battery is off: no ESC has power.', 'Connect the battery, then resume.');
    const other = run.order.found.escs.find((e) => e.boot.serial === there);
    const text =
      there === undefined
        ? `Clip the adapter to ${arm}.`
        : other
          ? `This is arm ${other.output + 1}. Clip the adapter to ${arm}.`
          : `This ESC (${there}) is not of this round. Clip the adapter to ${arm}.`;
    run.progress(step, 0, text, {waitsFor: 'clip', output});
    await sleep(run.host.clock, 400);
  }
}

async function whoIsThere(run: RunContext, output: number): Promise<string | undefined> {
  try {
    const {serial} = await enterEsc(run.wire(output));
    return serial;
  } catch (error) {
    if (error instanceof ProblemError && ['no-power', 'no-bootloader'].includes(error.problem.code)) return undefined;
    throw error;
  }
}

/** Writes settings pages: carried over with the plan on top, or put back from a snapshot. */
import type {Chip} from '../firmware/chips';
import {decodeSettings, defaultSettings, encodeSettings, settingsBytes} from '../settings/page';
import {motorList} from '../craft/motor-list';
import {readFlash} from '../bench/esc-access';
import {eachEsc} from './isolate';
import type {JournalEntry} from './journal';
import {capital, type RunContext} from './run-context';
import type {SettingsTarget, Step, StepOf, StepTarget} from '../order/steps';
import {writeWithRetries} from './write-with-retries';

const left = 'Its settings page is lost; its firmware would start with default settings.';

export async function setParameters(
  run: RunContext,
  step: StepOf<'set-parameters'>,
  entries: readonly JournalEntry[],
): Promise<void> {
  await run.note(step, 'begin', 'Writing settings pages; the pages before are in the snapshot.');
  await eachTarget(run, step, (chip, target) => writeSettings(run, chip, {step, target, entries}));
}

export async function restoreSettings(run: RunContext, step: StepOf<'restore-settings'>): Promise<void> {
  await run.note(step, 'begin', 'Putting settings pages back as the snapshot holds them.');
  await eachTarget(run, step, (chip, target) => putPage(run, chip, {step, target, page: target.page}));
}

async function eachTarget<T extends StepTarget>(
  run: RunContext,
  step: StepOf<'set-parameters' | 'restore-settings'> & {readonly targets: readonly T[]},
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

/**
 * Writes one settings page. Bytes that no definition names come from the page of the same layout: as it was before this
 * order, else as it is now. The ESC must be in its bootloader.
 */
export async function writeSettings(
  run: RunContext,
  chip: Chip,
  {step, target, entries}: {step: Step; target: SettingsTarget; entries: readonly JournalEntry[]},
): Promise<void> {
  // Copied chips share a serial: the output tells whose page it was.
  const snapshot = entries
    .flatMap((e) => e.snapshot ?? [])
    .find((s) => s.serial === target.serial && s.output === target.output);
  const current = await readFlash(run.wire(target.output), chip.settings.start, chip.pageBytes);
  const base = [snapshot?.page, current].find((page) => page && layoutOf(page) === target.layout);
  const page = new Uint8Array(chip.pageBytes).fill(0xff);
  if (base) page.set(base);
  // A layout the ESC never held has no bytes to keep: what the order does not name starts at its default.
  const values = base ? target.values : {...defaultSettings(target.layout), ...target.values};
  page.set(encodeSettings(target.layout, values, base));
  await putPage(run, chip, {step, target, page, current});
}

async function putPage(
  run: RunContext,
  chip: Chip,
  {step, target, page, current}: {step: Step; target: StepTarget; page: Uint8Array; current?: Uint8Array},
): Promise<void> {
  const wire = run.wire(target.output);
  const address = chip.settings.start;
  const now = current ?? (await readFlash(wire, address, chip.pageBytes));
  if (page.every((byte, i) => byte === now[i])) return;
  // From here on a page that does not read may be of this order's making, and only from here on.
  await run.note(step, 'begin', `${capital(wire.name)}: writing its settings page.`, {output: target.output});
  await writeWithRetries(run, {chip, wire, page: {address, bytes: page}, step, left});
}

function layoutOf(page: Uint8Array): number | undefined {
  const decoded = decodeSettings(page.subarray(0, settingsBytes));
  return decoded.ok ? decoded.value.layout : undefined;
}

/** Writes a settings page: values on top of the bytes that no definition names, or a page as it was. */
import type {Chip} from '../../firmware/chips';
import {decodeSettings, defaultSettings, encodeSettings, settingsBytes} from '../../settings/page';
import {withMelody} from '../../sounds/melody-block';
import {readRtttl} from '../../sounds/rtttl';
import {readFlash} from '../../bench/esc-access';
import type {JournalEntry} from '../journal';
import {type RunContext} from '../run-context';
import {capital} from '../../words/capital';
import type {SettingsTarget, Step, StepTarget} from '../../order/steps';
import {writeWithRetries} from './write-with-retries';

const left = 'Its settings page is lost; its firmware would start with default settings.';

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
  const melody = target.melody === undefined ? undefined : readRtttl(target.melody);
  const whole = melody?.ok ? withMelody(page, melody.value) : page;
  await putPage(run, chip, {step, target, page: whole, current});
}

export async function putPage(
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

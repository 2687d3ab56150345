/** Firmware of others is read out whole before the first page of it is erased: what is not kept could never come back. */
import {crc32} from '../../checksums';
import {type Chip} from '../../firmware/chips';
import {readFlash} from '../../bench/esc-access';
import {foundEsc, isForeign} from '../../bench/found';
import {addressText} from '../../hex';
import type {Step, StepTarget} from '../../order/steps';
import {capital} from '../../words/capital';
import type {JournalEntry} from '../journal';
import {stop, type RunContext} from '../run-context';

interface Kept {
  readonly step: Step;
  readonly target: StepTarget;
  readonly entries: readonly JournalEntry[];
}

/** The ESC must be in its bootloader, and still hold what was found; nothing is read twice. */
export async function keepForeign(run: RunContext, chip: Chip, {step, target, entries}: Kept): Promise<void> {
  const {output, serial} = target;
  const before = foundEsc(run.order.found, output);
  const isKept = entries.some((e) => e.stepId === step.id && e.event === 'kept');
  if (!before || !isForeign(before) || isKept) return;
  const wire = run.wire(output);
  const {start, end} = chip.application;
  const report = (share: number) =>
    run.progress(step, 0, `${capital(wire.name)}: reading the firmware it came with, ${Math.round(share * 100)} %`, {
      output,
    });
  const bytes = before.application ?? (await readFlash(wire, start, end - start, report));
  const other = before.pageCrcs.findIndex(
    (sum, i) => crc32(bytes.subarray(i * chip.pageBytes, (i + 1) * chip.pageBytes)) !== sum,
  );
  if (other >= 0)
    throw stop(
      'page-check',
      wire.name,
      `Page ${addressText(start + other * chip.pageBytes)} was read otherwise than the survey did; its firmware could not be kept, and nothing was written.`,
      'Check cable and battery, survey, then carry out again.',
    );
  await run.host.keepApplication({output, serial, chip: chip.name, bytes, settingsPage: before.settingsPage});
  await run.note(
    step,
    'kept',
    `${capital(wire.name)}: the firmware it came with was read out, ${bytes.length} bytes, and kept. It may go back to ${serial} alone.`,
    {output},
  );
}

/** Reads everything right before anything is written, and refuses a bench that changed meanwhile. */
import {foundEsc, type Found, type FoundEsc} from './found';
import type {SnapshotPage} from './journal';
import {stop, type RunContext} from './run-context';
import type {StepOf} from './steps';
import {survey} from './survey';

export async function takeSnapshot(run: RunContext, step: StepOf<'snapshot'>): Promise<void> {
  await run.note(step, 'begin', 'Reading everything before anything is written.');
  const found = await survey(run.client, {
    at: run.host.today(),
    known: run.known,
    onProgress: (share, text) => run.progress(step, share, text),
  });
  const changed = changedSince(run.order.found, found, step.outputs);
  if (changed) throw foundChanged(changed);
  const snapshot = found.escs.map(snapshotOf);
  await run.note(step, 'done', `Snapshot of ${snapshot.length} ESCs and the flight controller.`, {snapshot});
}

export const foundChanged = (what: string) =>
  stop(
    'found-changed',
    what,
    'The bench holds something else than when this order was made.',
    'Survey again and look at the new order.',
  );

export const snapshotOf = (e: FoundEsc): SnapshotPage => ({
  serial: e.boot.serial,
  output: e.output,
  page: e.settingsPage,
});

/** The first thing that is not as it was, in words; undefined when all is. */
function changedSince(before: Found, now: Found, outputs: readonly number[]): string | undefined {
  for (const output of outputs) {
    const esc = foundEsc(before, output)!;
    const other = foundEsc(now, output);
    const changed = other ? escChanged(esc, other) : 'does not answer';
    if (changed) return `motor ${output + 1} ${changed}`;
  }
  return JSON.stringify(before.controller?.config) === JSON.stringify(now.controller?.config)
    ? undefined
    : 'the flight controller';
}

/** How an ESC differs from what it was, in words. */
export function escChanged(before: FoundEsc, now: FoundEsc): string | undefined {
  if (now.boot.serial !== before.boot.serial) return 'is another ESC';
  if (now.pageCrcs.some((crc, i) => crc !== before.pageCrcs[i])) return 'holds other firmware';
  if (now.settingsPage.some((byte, i) => byte !== before.settingsPage[i])) return 'holds other settings';
  return undefined;
}

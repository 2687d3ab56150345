/** Reads everything right before anything is written, and refuses a bench that changed meanwhile. */
import {controllerDifferences, controllerFieldName} from '../controller/fields';
import {nameInSentence} from '../settings/carry-over-text';
import {formatValue, parameterDefinitions} from '../settings/definitions';
import {foundEsc, type Found, type FoundEsc} from '../bench/found';
import type {SnapshotPage} from './journal';
import {stop, type RunContext} from './run-context';
import type {StepOf} from '../order/steps';
import {survey} from '../bench/survey';

export async function takeSnapshot(run: RunContext, step: StepOf<'snapshot'>): Promise<void> {
  await run.note(step, 'begin', 'Reading everything before anything is written.');
  const found = await survey(run.client, {
    at: run.host.today(),
    known: run.known,
    onProgress: (share, text) => run.progress(step, share, text),
  });
  const changed = changedSince(run.order.found, found, step.outputs);
  if (changed) {
    // What is there now is shown; the next order is made from it.
    run.found = found;
    throw foundChanged(changed.place, changed.what);
  }
  const snapshot = found.escs.map(snapshotOf);
  await run.note(step, 'done', `Snapshot of ${snapshot.length} ESCs and the flight controller.`, {snapshot});
}

export const foundChanged = (place: string, what: string) =>
  stop(
    'found-changed',
    place,
    `Someone changed the bench since this order was made: ${place} ${what}.`,
    'Nothing was written. Look at the order that follows from what is there now.',
  );

export const snapshotOf = (e: FoundEsc): SnapshotPage => ({
  serial: e.boot.serial,
  output: e.output,
  page: e.settingsPage,
});

interface Change {
  readonly place: string;
  readonly what: string;
}

/** The first thing that is not as it was; undefined when all is. */
function changedSince(before: Found, now: Found, outputs: readonly number[]): Change | undefined {
  for (const output of outputs) {
    const other = foundEsc(now, output);
    const what = other ? escChanged(foundEsc(before, output)!, other) : 'does not answer';
    if (what) return {place: `motor ${output + 1}`, what};
  }
  const [was, is] = [before.controller?.config, now.controller?.config];
  if (JSON.stringify(was) === JSON.stringify(is)) return undefined;
  const fields = was && is ? controllerDifferences(was, is) : [];
  const names = fields.map((d) => `${controllerFieldName(d.field)} ${d.from} → ${d.to}`);
  return {place: 'the flight controller', what: names.length ? `holds ${names.join(', ')}` : 'is another one'};
}

/** How an ESC differs from what it was, in words. */
export function escChanged(before: FoundEsc, now: FoundEsc): string | undefined {
  if (now.boot.serial !== before.boot.serial) return 'is another ESC';
  if (now.pageCrcs.some((crc, i) => crc !== before.pageCrcs[i])) return 'holds other firmware';
  if (now.settingsPage.every((byte, i) => byte === before.settingsPage[i])) return undefined;
  const changes = escChanges(before, now);
  return changes ? `holds ${changes}` : 'holds other settings';
}

/** Settings that changed, value by value: "tone loudness 30 → 200"; empty when none that is named did. */
export function escChanges(before: FoundEsc, now: FoundEsc): string {
  const changes = parameterDefinitions.flatMap((d) => {
    const [was, is] = [before.settings?.values[d.key], now.settings?.values[d.key]];
    return was === is || was === undefined || is === undefined
      ? []
      : [`${nameInSentence(d.key)} ${formatValue(d, was)} → ${formatValue(d, is)}`];
  });
  return changes.join(', ');
}

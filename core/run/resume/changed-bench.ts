/** How a bench differs from what it was, in words, and the refusal that follows. */
import {sameJson} from '../../canonical-json';
import {settingChanges} from '../../controller/settings/setting-changes';
import {controllerDifferences, controllerFieldName} from '../../controller/fields';
import {nameInSentence} from '../../settings/carry-over-text';
import {formatValue, parameterDefinitions} from '../../settings/definitions';
import {foundEsc, type Found, type FoundEsc} from '../../bench/found';
import type {SnapshotPage} from '../journal';
import {stop} from '../run-context';

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
export function changedSince(before: Found, now: Found, outputs: readonly number[]): Change | undefined {
  for (const output of outputs) {
    const other = foundEsc(now, output);
    const what = other ? escChanged(foundEsc(before, output)!, other) : 'does not answer';
    if (what) return {place: `motor ${output + 1}`, what};
  }
  const [was, is] = [before.controller?.config, now.controller?.config];
  const others = settingChanges(before.controller, now.controller);
  if (sameJson(was, is) && !others.length) return undefined;
  const fields = was && is ? controllerDifferences(was, is) : [];
  const names = [
    ...fields.map((d) => `${controllerFieldName(d.field)} ${d.from} → ${d.to}`),
    ...others.map(({text}) => text),
  ];
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

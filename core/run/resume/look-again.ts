/**
 * A resumed order looks at everything it will overwrite, as a new one does. What is neither as before the order nor as the
 * order leaves it was changed by someone meanwhile: the order stops, says what, and goes on only when a person lets it.
 * What an interrupted write left behind is the order's own and no news.
 */
import {crc32} from '../../checksums';
import {settingDifferences} from '../../controller/settings/planned-settings';
import {settingChanges} from '../../controller/settings/setting-changes';
import {controllerDifferences, controllerFieldName} from '../../controller/fields';
import type {ControllerConfig} from '../../controller/plan';
import {findChip} from '../../firmware/chips';
import type {Identity} from '../../firmware/identity';
import {decodeSettings} from '../../settings/page';
import {firmwareText, foundEsc, type Found, type FoundEsc} from '../../bench/found';
import {stepState, type JournalEntry} from '../journal';
import {identityOf} from '../../firmware/plan/planned-image';
import {stop, type RunContext} from '../run-context';
import {sameEsc} from './same-esc';
import type {Touch} from '../../order/step-kind';
import type {Step, StepOf} from '../../order/steps';
import {ProblemError} from '../../problem';
import {isInLoader, survey} from '../../bench/survey';
import {escChanges, snapshotOf} from './changed-bench';

/** Something that was changed between stop and resume. */
export interface Change {
  /** Names this very change: another one, even of the same thing, has another key. */
  readonly key: string;
  readonly place: string;
  readonly what: string;
}

/** Thrown when a person has to be asked first. */
export class ChangedMeanwhile extends ProblemError {
  constructor(readonly changes: readonly Change[]) {
    const text = changes.map(({place, what}) => `${place} ${what}`).join('; ');
    super({
      code: 'changed-meanwhile',
      place: changes[0]!.place,
      meaning: `Since this order stopped, the bench was changed: ${text}.`,
      remedy:
        'Nothing was overwritten. Go on and overwrite it, a snapshot of it is kept; or make a new order from what is there now.',
    });
  }
}

/** Looks, where the order is resumed and still has something to write behind the flight controller. */
export async function lookAgain(run: RunContext, entries: readonly JournalEntry[]): Promise<void> {
  const {steps} = run.order;
  const snapshot = steps.find((s) => s.kind === 'snapshot');
  if (!snapshot || stepState(entries, snapshot.id) !== 'done') return;
  const open = steps.filter((s) => run.touches(s).length > 0 && stepState(entries, s.id) !== 'done');
  if (!open.length) return;
  await run.client.hello();
  // No firmware runs on the flight controller: that is this order's own doing, and nothing else can be looked at.
  if (isInLoader(run.client) && open.some((s) => s.kind === 'write-controller')) return;
  const progress = (share: number) =>
    run.progress(open[0]!, 0, `Looking at what is there now, ${Math.round(share * 100)} %`);
  const found = await survey(run.client, {at: run.host.today(), known: run.known, onProgress: progress});
  const changes: Change[] = [];
  for (const output of outputsOf(run, open)) {
    const now = sameEsc(run, found, output);
    const before = foundEsc(run.order.found, output)!;
    changes.push(...(await escChangesMeanwhile(run, {before, now, entries})));
  }
  // Firmware that this order has written anew took the configuration with it.
  const isRewritten = beganIn(entries, stepsTouching(run, 'loader', 'controller'));
  if (!isRewritten) changes.push(...controllerChanges(run, found, open));
  await askOrKeep(run, found, {step: open[0]!, changes});
}

/** Stops for changes that nobody has seen yet; keeps what was there where a person said to overwrite it. */
async function askOrKeep(
  run: RunContext,
  found: Found,
  {step, changes}: {readonly step: Step; readonly changes: readonly Change[]},
): Promise<void> {
  if (!changes.length) return;
  if (changes.some((c) => !run.host.overwrite?.has(c.key))) {
    run.found = found;
    throw new ChangedMeanwhile(changes);
  }
  await run.host.keepSnapshot(found);
  const text = changes.map(({place, what}) => `${place} ${what}`).join('; ');
  await run.note(step, 'snapshot', `You let the order overwrite what changed meanwhile: ${text}.`, {
    snapshot: found.escs.map(snapshotOf),
  });
}

const outputsOf = (run: RunContext, open: readonly Step[]): number[] => [
  ...new Set(open.flatMap((s) => run.touches(s).flatMap(({at}) => (at === 'controller' ? [] : [at])))),
];

interface EscLook {
  readonly before: FoundEsc;
  readonly now: FoundEsc;
  readonly entries: readonly JournalEntry[];
}

/** What of one ESC is neither as before nor as the order leaves it. */
async function escChangesMeanwhile(run: RunContext, look: EscLook): Promise<Change[]> {
  const {now} = look;
  const place = run.wire(now.output).name;
  const firmware = await firmwareChanged(run, look);
  const settings = settingsChanged(run, look);
  const key = (what: string, bytes: Uint8Array) => `${now.output} ${now.boot.serial} ${what} ${crc32(bytes)}`;
  return [
    ...(firmware
      ? [
          {
            key: key('firmware', new Uint8Array(Uint32Array.from(now.pageCrcs).buffer)),
            place,
            what: firmware,
          },
        ]
      : []),
    ...(settings ? [{key: key('settings', now.settingsPage), place, what: settings}] : []),
  ];
}

const beganIn = (entries: readonly JournalEntry[], steps: readonly Step[]) =>
  entries.some((e) => e.event === 'begin' && steps.some((s) => s.id === e.stepId));

async function firmwareChanged(run: RunContext, {before, now, entries}: EscLook): Promise<string | undefined> {
  const {output} = now;
  const steps = stepsTouching(run, 'firmware', output);
  if (!now.boot.applicationValid)
    return beganIn(entries, steps) || !before.boot.applicationValid ? undefined : 'holds no application any more';
  if (now.pageCrcs.every((crc, i) => crc === before.pageCrcs[i])) return undefined;
  const writes = steps.flatMap((s) => run.kinds.of(s).images?.(s).writes ?? []);
  const chip = findChip(now.boot.chip)!;
  const same = (a: Identity | undefined, b: Identity | undefined) => a !== undefined && a.bodyCrc32 === b?.bodyCrc32;
  const planned = await Promise.all(
    writes.map(async ({image, part}) => ({
      part,
      identity: identityOf(await run.host.image(image.sha256), chip.name, part),
    })),
  );
  const isOurs = (found: Identity | undefined, part: 'base' | 'module', was: Identity | undefined) =>
    same(found, was) || planned.some((p) => p.part === part && same(found, p.identity));
  const base = isOurs(now.identity, 'base', before.identity);
  const module = !now.module || isOurs(now.module, 'module', before.module);
  return base && module ? undefined : `runs ${firmwareText(now)}`;
}

function settingsChanged(run: RunContext, {before, now, entries}: EscLook): string | undefined {
  if (now.settingsPage.every((byte, i) => byte === before.settingsPage[i])) return undefined;
  const steps = stepsTouching(run, 'settings', now.output);
  const read = decodeSettings(now.settingsPage);
  // A page that does not read is what our own interrupted write left, if one was begun on this very ESC.
  const isLeft = entries.some(
    (e) => e.event === 'begin' && e.output === now.output && steps.some((s) => s.id === e.stepId),
  );
  if (!read.ok) return isLeft ? undefined : 'holds settings that do not read';
  const isOurs = steps.some((s) => run.kinds.of(s).leaves?.(s, now));
  return isOurs ? undefined : `holds ${escChanges(before, now) || 'other settings'}`;
}

const stepsTouching = (run: RunContext, of: Touch['of'], at: Touch['at']): readonly Step[] =>
  run.order.steps.filter((step) => run.touches(step).some((touch) => touch.of === of && touch.at === at));

function controllerChanges(run: RunContext, found: Found, open: readonly Step[]): Change[] {
  const others = otherSettingChanges(run, found, open);
  const goals = open.flatMap((step) => run.kinds.of(step).controllerGoal?.(step) ?? []);
  const [was, is] = [run.order.found.controller?.config, found.controller?.config];
  if (!goals.length || !was || !is) return others;
  const goal = goals.reduce<ControllerConfig>((all, some) => ({...all, ...some}), was);
  const left = new Set(controllerDifferences(is, goal).map((d) => d.field));
  const changed = controllerDifferences(was, is).filter((d) => left.has(d.field));
  if (!changed.length) return others;
  const names = changed.map((d) => `${controllerFieldName(d.field)} ${d.from} → ${d.to}`).join(', ');
  return [{key: `controller ${names}`, place: 'the flight controller', what: `holds ${names}`}, ...others];
}

/** Settings beside the fields that someone changed, and that an open step would overwrite. */
function otherSettingChanges(run: RunContext, {controller}: Found, open: readonly Step[]): Change[] {
  const goals = open.flatMap((step) => {
    const goal = run.kinds.of(step).settingsGoal?.(step);
    return goal ? [goal] : [];
  });
  if (!controller || !goals.length) return [];
  const {settings, identity} = controller;
  const left = goals.flatMap((goal) => settingDifferences(goal, settings, identity.version)).map(({key}) => key);
  const names = settingChanges(run.order.found.controller, controller)
    .filter(({key}) => left.includes(key))
    .map(({text}) => text)
    .join(', ');
  return names ? [{key: `settings ${names}`, place: 'the flight controller', what: `holds ${names}`}] : [];
}

/** The look before an arm of an adapter's round is written again. */
export async function lookAtArm(
  run: RunContext,
  step: StepOf<'visit'>,
  found: Found,
  entries: readonly JournalEntry[],
): Promise<void> {
  const {output} = step.target;
  const [before, now] = [foundEsc(run.order.found, output), foundEsc(found, output)];
  if (!before || !now)
    throw stop('no-power', `arm ${output + 1}`, 'It fell silent.', 'Connect the battery, then resume.');
  await askOrKeep(run, found, {step, changes: await escChangesMeanwhile(run, {before, now, entries})});
}

/** Snapshots held against the plan, what was found, or one another; and what of them can be planned again. */
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {describeCarryOver} from '../../settings/carry-over-text';
import {
  isLayoutRevision,
  parameterDefinitions,
  type LayoutRevision,
  type ParameterKey,
} from '../../settings/definitions';
import {
  compareSides,
  restoreAsPlan,
  sideOfFound,
  sideOfPlan,
  sideOfSnapshot,
  type RestorePlan,
  type Side,
  type Snapshot,
} from '../../snapshot/snapshot';
import {counted} from '../../words/counted';
import {momentText} from '../../words/moment';
import type {Choice} from '../choice';
export {snapshotFile, type SnapshotFormat} from '../../snapshot/saved';

export interface SnapshotsNow {
  readonly listed: readonly Snapshot[];
  readonly craft: Craft | undefined;
  readonly found: Found | undefined;
  readonly pickedId: string | undefined;
  /** "found", "plan", or the id of another snapshot. */
  readonly against: string;
  readonly onlyDiffering: boolean;
}

interface SnapshotsSheet {
  readonly rows: readonly {readonly snapshot: Snapshot; readonly when: string; readonly escs: string}[];
  readonly held: HeldAgainst | undefined;
}

interface HeldAgainst {
  readonly name: string;
  readonly others: Choice<string>[];
  readonly motors: readonly number[];
  readonly differing: number;
  readonly lines: readonly HeldLine[];
  /** What carrying over to the present layout does, once for ESCs of the same layout. */
  readonly report: readonly string[];
  /** What can be planned of it; undefined where its layout is not known. */
  readonly restore: RestorePlan | undefined;
}

interface HeldLine {
  readonly name: string;
  readonly cells: readonly {readonly text: string; readonly differs: boolean}[];
  /** Parameter that can be planned as it was; undefined where it cannot. */
  readonly plans: ParameterKey | undefined;
}

export function snapshotsSheet(now: SnapshotsNow): SnapshotsSheet {
  const picked = now.listed.find((s) => s.id === now.pickedId);
  return {
    rows: now.listed.map((snapshot) => ({
      ...{snapshot, when: momentText(snapshot.at), escs: counted(snapshot.escs.length, 'ESC')},
    })),
    held: picked && heldAgainst(picked, now),
  };
}

function heldAgainst(picked: Snapshot, now: SnapshotsNow): HeldAgainst {
  const motors = now.craft?.arms.length ?? 0;
  const [other, layout] = [sideOf(now), layoutOf(picked, now.found)];
  const all = other ? compareSides(sideOfSnapshot(picked), other, motors) : [];
  const restore = layout !== undefined && now.craft ? restoreAsPlan(picked, layout, now.craft) : undefined;
  return {
    name: picked.name,
    others: [
      {label: 'what was found last', value: 'found'},
      {label: 'the plan', value: 'plan'},
      ...now.listed
        .filter((s) => s.id !== picked.id)
        .map((s) => ({label: `${s.name}, ${momentText(s.at)}`, value: s.id})),
    ],
    motors: Array.from({length: motors}, (_, i) => i + 1),
    differing: all.filter((l) => l.differs).length,
    lines: all
      .filter((l) => l.differs || !now.onlyDiffering)
      .map(({name, motors: cells}) => ({
        ...{name, plans: plansOf(name, restore)},
        cells: cells.map(({left, right, differs}) => ({text: differs ? `${left} → ${right}` : left, differs})),
      })),
    report:
      restore && layout !== undefined
        ? [...new Set(restore.carried.map((c) => describeCarryOver(c.from, layout, c.carried)))]
        : [],
    restore,
  };
}

function sideOf({against, found, craft, listed}: SnapshotsNow): Side | undefined {
  if (against === 'found') return found && sideOfFound(found);
  if (against === 'plan') return craft && sideOfPlan(craft);
  const other = listed.find((s) => s.id === against);
  return other && sideOfSnapshot(other);
}

/** Layout that a plan from the snapshot is for: of what was found, else the newest the snapshot knows. */
function layoutOf(picked: Snapshot, found: Found | undefined): LayoutRevision | undefined {
  const layout = found?.escs.find((e) => e.identity)?.identity?.layoutRevision ?? picked.escs[0]?.layout;
  return layout !== undefined && isLayoutRevision(layout) ? layout : undefined;
}

function plansOf(name: string, restore: RestorePlan | undefined): ParameterKey | undefined {
  const key = parameterDefinitions.find((d) => d.name === name)?.key;
  return key !== undefined && restore?.parameters[key] !== undefined ? key : undefined;
}

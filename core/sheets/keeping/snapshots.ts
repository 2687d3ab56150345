/** Snapshots and other craft held against the plan, what was found, or one another; and what of them can be planned. */
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import {describeCarryOver} from '../../settings/carry-over-text';
import {
  definitionOf,
  isLayoutRevision,
  parameterDefinitions,
  parameterGroups,
  type LayoutRevision,
  type ParameterKey,
} from '../../settings/definitions';
import {
  compareSides,
  restoreAsPlan,
  sideOfFound,
  sideOfPlan,
  sideOfSnapshot,
  type ComparedLine,
  type RestorePlan,
  type Side,
  type Snapshot,
} from '../../snapshot/snapshot';
import {counted} from '../../words/counted';
import {momentText} from '../../words/moment';
import type {Choice} from '../choice';
import {snapshotOfOther, type OtherCraft} from '../other-craft';
export {snapshotFile, type SnapshotFormat} from '../../snapshot/saved';

export interface SnapshotsNow {
  readonly listed: readonly Snapshot[];
  /** Other craft of the fleet that were surveyed. */
  readonly crafts: readonly OtherCraft[];
  readonly craft: Craft | undefined;
  readonly found: Found | undefined;
  readonly pickedId: string | undefined;
  /** "found", "plan", or the id of another snapshot or craft. */
  readonly against: string;
  readonly onlyDiffering: boolean;
}

interface SnapshotsSheet {
  readonly rows: readonly SnapshotRow[];
  /** Other craft, as each was found last. */
  readonly others: readonly SnapshotRow[];
  readonly held: HeldAgainst | undefined;
}

interface SnapshotRow {
  readonly snapshot: Snapshot;
  readonly when: string;
  readonly escs: string;
}

interface HeldAgainst {
  readonly name: string;
  /** Whose lines of the flight controller can be looked at beside what was found: its id; undefined where it has none. */
  readonly controllerOf: string | undefined;
  readonly others: Choice<string>[];
  readonly motors: readonly number[];
  readonly differing: number;
  readonly sections: readonly HeldSection[];
  /** What carrying over to the present layout does, once for ESCs of the same layout. */
  readonly report: readonly string[];
  /** What can be planned of it; undefined where its layout is not known. */
  readonly restore: RestorePlan | undefined;
}

interface HeldSection {
  readonly name: string;
  readonly lines: readonly HeldLine[];
  /** Parameters of it that differ and can be planned as they were. */
  readonly plans: readonly ParameterKey[];
}

interface HeldLine {
  readonly name: string;
  readonly cells: readonly {readonly text: string; readonly differs: boolean}[];
  /** Parameter that can be planned as it was; undefined where it cannot. */
  readonly plans: ParameterKey | undefined;
}

export function snapshotsSheet(now: SnapshotsNow): SnapshotsSheet {
  const others = now.crafts.map(snapshotOfOther);
  const all = [...now.listed, ...others];
  const picked = all.find((s) => s.id === now.pickedId);
  return {rows: now.listed.map(rowOf), others: others.map(rowOf), held: picked && heldAgainst(picked, all, now)};
}

const rowOf = (snapshot: Snapshot): SnapshotRow => ({
  ...{snapshot, when: momentText(snapshot.at), escs: counted(snapshot.escs.length, 'ESC')},
});

function heldAgainst(picked: Snapshot, snapshots: readonly Snapshot[], now: SnapshotsNow): HeldAgainst {
  const motors = now.craft?.arms.length ?? 0;
  const [other, layout] = [sideOf(now, snapshots), layoutOf(picked, now.found)];
  const all = other ? compareSides(sideOfSnapshot(picked), other, motors) : [];
  const whole = layout !== undefined && now.craft ? restoreAsPlan(picked, layout, now.craft) : undefined;
  const restore = whole && (now.listed.includes(picked) ? whole : withoutCalibration(whole));
  return {
    name: picked.name,
    controllerOf: picked.controller && picked.id,
    others: [
      {label: 'what was found last', value: 'found'},
      {label: 'the plan', value: 'plan'},
      ...snapshots
        .filter((s) => s.id !== picked.id)
        .map((s) => ({label: `${s.name}, ${momentText(s.at)}`, value: s.id})),
    ],
    motors: Array.from({length: motors}, (_, i) => i + 1),
    differing: all.filter((l) => l.differs).length,
    sections: sectionsOf(
      all.filter((l) => l.differs || !now.onlyDiffering),
      restore,
    ),
    report:
      restore && layout !== undefined
        ? [...new Set(restore.carried.map((c) => describeCarryOver(c.from, layout, c.carried)))]
        : [],
    restore,
  };
}

/** What calibration made of one ESC says nothing of another craft's. */
const withoutCalibration = (restore: RestorePlan): RestorePlan => ({
  ...restore,
  parameters: Object.fromEntries(
    Object.entries(restore.parameters).filter(([key]) => !definitionOf(key as ParameterKey).calibratedSpread),
  ),
});

const sectionsOf = (lines: readonly ComparedLine[], restore: RestorePlan | undefined): HeldSection[] =>
  parameterGroups.flatMap(({name, parameters}) => {
    const own = lines.filter((line) => parameters.some((p) => p.name === line.name));
    const plans = own.flatMap((line) => (line.differs ? (plansOf(line.name, restore) ?? []) : []));
    return own.length ? [{name, plans, lines: own.map((line) => lineOf(line, restore))}] : [];
  });

const lineOf = ({name, motors}: ComparedLine, restore: RestorePlan | undefined): HeldLine => ({
  ...{name, plans: plansOf(name, restore)},
  cells: motors.map(({left, change, differs}) => ({text: differs ? change : left, differs})),
});

function sideOf({against, found, craft}: SnapshotsNow, snapshots: readonly Snapshot[]): Side | undefined {
  if (against === 'found') return found && sideOfFound(found);
  if (against === 'plan') return craft && sideOfPlan(craft);
  const other = snapshots.find((s) => s.id === against);
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

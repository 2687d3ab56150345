/** Settings beside the fields of the plan, as another text or a snapshot has them: each with its fate, and what can be planned. */
import {sameJson} from '../../canonical-json';
import {expectedOf} from '../../link/setting-accepts';
import {settingValueSchema, type SettingEntry, type SettingValue} from '../../link/setting-shapes';
import type {ControllerText} from '../text/read-text';
import {pathOf, shown} from '../text/read-text';
import {headSection} from '../text/entries';
import type {TextRow} from '../text/rows';
import type {BoardSettings} from './board-settings';
import {carrySettings, type CarriedSetting} from './carry-settings';
import {otherEntries} from './field-entries';
import {settingsPlannedFor, type Described, type PlannedSettings} from './planned-settings';

/** What a source holds, by its own description. */
export type HeldElsewhere = BoardSettings & Described;

/**
 * Lines of a text that the plan has no field for. It describes none of them: each is taken for what it is called in its own
 * version, and what the description of now says of that.
 */
export function settingsOfText({lines, version}: ControllerText, now: Described): HeldElsewhere {
  const kinds = new Map(now.entries.map(({key, kind}) => [key, kind]));
  const held = lines.flatMap((line) => {
    const read = settingValueSchema.safeParse(line.value);
    return line.known || line.section === headSection || !read.success ? [] : [[pathOf(line), read.data] as const];
  });
  return {
    version: version ?? now.version,
    values: Object.fromEntries(held),
    entries: held.map(([key, usual]): SettingEntry => ({
      ...{key, usual, since: '0.0', sentence: 'A line of a text.'},
      kind: kinds.get(key) ?? {of: 'text', longest: 200},
    })),
  };
}

interface RowsQuestion {
  readonly held: HeldElsewhere;
  readonly planned: PlannedSettings | undefined;
  readonly other: HeldElsewhere;
}

/** What becomes of each on the firmware of now, in the order of its description; what is new there is not among them. */
export function carriedFrom(other: HeldElsewhere, now: Described): CarriedSetting[] {
  // Fields of the plan have rows of their own, whatever each version calls them.
  const before = {...other, entries: otherEntries(other, other.version)};
  return carrySettings(before, otherEntries(now, now.version), {from: other.version, to: now.version}).filter(
    ({from, fate}) => fate !== 'new' && from !== undefined,
  );
}

/** A row for each that would change the plan, or that this firmware does not take. */
export function settingRows({held, planned, other}: RowsQuestion): TextRow[] {
  const entryOf = new Map(held.entries.map((entry) => [entry.key, entry]));
  const plan = new Map(
    settingsPlannedFor(planned, held).map(({key, value, refusal}) => [key, refusal ? undefined : value]),
  );
  return carriedFrom(other, held).flatMap((line): TextRow[] => {
    const path = line.to ?? line.from!;
    const entry = line.to === undefined ? undefined : entryOf.get(line.to);
    const found = entry && held.values[entry.key];
    const planned = plan.get(path) ?? found;
    const row = rowOf(line, {entry, found, planned});
    return row.differs.otherPlan ? [row] : [];
  });
}

interface Now {
  readonly entry: SettingEntry | undefined;
  readonly found: SettingValue | undefined;
  /** What is found where nothing is planned. */
  readonly planned: SettingValue | undefined;
}

function rowOf(line: CarriedSetting, {entry, found, planned}: Now): TextRow {
  const {from, to, was, is, refused, fate} = line;
  const path = to ?? from!;
  const [section, key = ''] = path.split('.') as [string, string | undefined];
  const canPlan = entry !== undefined && refused === undefined && is !== undefined;
  const told = (value: SettingValue | undefined) => (value === undefined ? undefined : shown(value));
  const fateText =
    to !== undefined && fate !== 'kept' ? `${fate}${from === to ? '' : ` from ${from}`}, ${shown(was!)} there. ` : '';
  return {
    ...{path, section, key, field: '', expected: entry ? expectedOf(entry.kind) : ''},
    meaning: refused === undefined ? `${fateText}${entry?.sentence ?? ''}` : refused,
    ...{found: told(found), plan: told(planned), other: told(canPlan ? is : was), line: undefined},
    ...(canPlan && {setting: is}),
    differs: {
      foundPlan: entry !== undefined && !sameJson(found, planned),
      otherPlan: !canPlan || !sameJson(is, planned),
    },
  };
}

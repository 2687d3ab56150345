/** The whole configuration of the flight controller as text: found beside plan, and the lines of another text to plan. */
import {lockNote} from '../../controller/locks';
import {planOver, type ControllerConfig, type ControllerPlan} from '../../controller/plan';
import {carryText, type CarriedText} from '../../controller/text/carry-text';
import {headSection, textVersions, type TextVersion} from '../../controller/text/entries';
import {groupedBySection, pathOf, readText, shown, type ControllerText} from '../../controller/text/read-text';
import {planFrom, textRows, type TextRow} from '../../controller/text/rows';
import {writeText, type LineToWrite, type WrittenOf} from '../../controller/text/write-text';
import {valuesPlannedFor} from '../../controller/settings/planned-settings';
import {settingLines} from '../../controller/settings/setting-lines';
import {carriedFrom, settingRows, settingsOfText, type HeldElsewhere} from '../../controller/settings/setting-rows';
import type {Craft} from '../../craft/craft';
import type {FoundController} from '../../bench/found';
import {settingsHeldBy, type Snapshot} from '../../snapshot/snapshot';
import {counted} from '../../words/counted';
import {momentText} from '../../words/moment';
import type {Choice} from '../choice';
import type {OtherCraft} from '../other-craft';
import type {JudgedCraft} from '../craft-question';
import {withPlannedSettings} from './held-settings';

/** A text that was opened. */
export interface OpenedText {
  readonly id: string;
  readonly label: string;
  readonly text: ControllerText;
}

export interface TextNow {
  /** Files that were opened, the newest first. */
  readonly files: readonly OpenedText[];
  readonly snapshots: readonly Snapshot[];
  /** Other craft, as each was found last. */
  readonly crafts: readonly OtherCraft[];
  /** "found", or the id of a file, a snapshot or another craft; undefined while no other text is looked at. */
  readonly chosen: string | undefined;
  readonly onlyDiffering: boolean;
  /** Lines that are ticked. */
  readonly taken: readonly string[];
}

interface TextSheet {
  readonly choices: Choice<string>[];
  /** Name of the other text; undefined where none is looked at. */
  readonly other: string | undefined;
  readonly faults: readonly {readonly place: string; readonly text: string}[];
  /** What carrying it over to this firmware did; undefined where it is of the same version. */
  readonly carried: CarriedSheet | undefined;
  readonly sections: readonly TextSection[];
  /** What is said where there is no line. */
  readonly empty: string;
  readonly isFound: boolean;
  /** What the button says that plans the ticked lines. */
  readonly planText: string;
  /** What a file can hold. */
  readonly parts: Choice<TextPart>[];
}

interface CarriedSheet {
  readonly title: string;
  readonly isShort: boolean;
  readonly lines: readonly {readonly fate: string; readonly path: string; readonly text: string}[];
}

interface TextSection {
  readonly name: string;
  readonly rows: readonly TextLineSheet[];
  /** Lines of it that the other text can give the plan, and what the button says that ticks them. */
  readonly takeable: readonly string[];
  readonly takeText: string;
}

interface TextLineSheet {
  readonly path: string;
  readonly key: string;
  readonly meaning: string;
  readonly expected: string;
  readonly found: string;
  readonly plan: string;
  readonly differs: boolean;
  /** Why it cannot be written as things stand, and what unlocks it; empty where it can. */
  readonly locked: string;
  /** What the other text says, and whether it can be planned. */
  readonly other: string;
  readonly canTake: boolean;
  readonly isTaken: boolean;
}

export function textSheet(q: JudgedCraft, now: TextNow): TextSheet {
  const other = otherText(q, now);
  const controller = q.record.found?.controller;
  return {
    ...{choices: textChoices(q, now), other: other?.label},
    faults: (other?.text.faults ?? []).map(({line, key, message}) => ({
      place: `Line ${line}${key ? `, ${key}` : ''}`,
      text: `${message} It is not accepted like this. Correct the file and open it again.`,
    })),
    carried: other?.carried && carriedSheet({...other.carried, report: fatesOf(other, heldNow(q))}),
    sections: textSections(q, now, other),
    empty: controller ? 'Nothing differs.' : 'No flight controller was read yet: survey the bench over its cable.',
    isFound: controller !== undefined,
    planText: `Plan ${counted(now.taken.length, 'line')}`,
    parts: [
      {label: 'all lines', value: 'all'},
      {label: 'only what is not default', value: 'not default'},
      ...sectionNames(q).map((section) => ({label: `section ${section}`, value: {section}})),
    ],
  };
}

/** Lines that were pasted, read as any other text. */
export const pastedText = (lines: string): ControllerText => readText(lines);

/** Lines of a file: all of them, those that are not at their default, or one section. */
export type TextPart = 'all' | 'not default' | {readonly section: string};

/** As a file: with everything else that the controller holds. */
export function textFile(
  q: JudgedCraft,
  of: 'found' | 'plan',
  part: TextPart = 'all',
): {readonly name: string; readonly content: string} {
  const controller = q.record.found?.controller;
  const config = of === 'plan' ? {...plannedOf(q), gyroHz: controller?.config.gyroHz} : controller!.config;
  const name = q.craft.name.toLowerCase().replace(/\W+/g, '-');
  const more = part === 'all' ? '' : `-${typeof part === 'string' ? part.replace(' ', '-') : part.section}`;
  const isMeant = (line: LineToWrite, isUsual: boolean) =>
    part === 'all' ||
    line.section === headSection ||
    (part === 'not default' ? !isUsual : line.section === part.section);
  return {
    name: `${name}-controller-${of}${more}.toml`,
    content: written(controller, config as ControllerConfig, {more: otherLines(q, of), isMeant}),
  };
}

/** Sections that a file can be of alone. */
const sectionNames = (q: JudgedCraft): string[] => {
  const rows = textRows({
    version: versionOf(q.record.found?.controller),
    found: undefined,
    plan: plannedOf(q),
    other: undefined,
  });
  const others = otherLines(q, 'plan').map(({section}) => section);
  return [...new Set([...rows.map(({section}) => section), ...others])].filter((name) => name !== '').sort();
};

/** The craft with the ticked lines of the other text in its plan. */
export function withTakenLines(craft: Craft, q: JudgedCraft, now: TextNow): Craft {
  const rows = rowsOf(q, otherText(q, now)).filter((r) => now.taken.includes(r.path));
  const lines = rows.flatMap((r) => (r.line ? [r.line] : []));
  const {props, ...fields} = planFrom(lines, versionOf(q.record.found?.controller), plannedOf(q));
  const plan = {...craft.plan, controller: {...craft.plan.controller, ...fields}};
  const settings = rows.flatMap((r) => (r.setting === undefined ? [] : [[r.path, r.setting] as const]));
  const planned = {...craft, ...(props && {props}), plan};
  return settings.length ? withPlannedSettings(planned, q, Object.fromEntries(settings)) : planned;
}

/** Lines of the other text that can be planned, and would change the plan. */
export const takeableRows = (q: JudgedCraft, now: TextNow): readonly TextRow[] =>
  rowsOf(q, otherText(q, now)).filter(canTake);

/** Ticks these lines; where all of them are ticked, takes the ticks away. */
export function withTicked(taken: readonly string[], paths: readonly string[]): readonly string[] {
  const isAll = paths.every((p) => taken.includes(p));
  return isAll ? taken.filter((p) => !paths.includes(p)) : [...new Set([...taken, ...paths])];
}

/** Version whose places the lines have: the controller's own where it is known, else the newest. */
const versionOf = (controller: FoundController | undefined): TextVersion =>
  textVersions.find((v) => v === controller?.identity.version) ?? textVersions.at(-1)!;

const plannedOf = ({plan, record}: JudgedCraft): ControllerPlan =>
  planOver(plan.controller, record.found?.controller?.config);

/** A version that nobody knows is named as it is; its text is told as read by the newest. */
function written(
  controller: FoundController | undefined,
  config: ControllerConfig,
  some: Pick<WrittenOf, 'more' | 'isMeant'> = {},
): string {
  const version = versionOf(controller);
  const {firmware = 'Plumb', version: own = version, board = '', chip = ''} = controller?.identity ?? {};
  return writeText(config, {firmware, version: own, board, chip, ...some}, version);
}

/** What it holds beside the fields, with what is planned of it over that. */
function otherLines(q: JudgedCraft, of: 'found' | 'plan'): (LineToWrite & {readonly isUsual: boolean})[] {
  const held = heldNow(q);
  if (!held) return [];
  const planned = of === 'plan' ? valuesPlannedFor(q.plan.settings, held) : {};
  return settingLines({...held, values: {...held.values, ...planned}}, held.version);
}

const textChoices = ({record}: JudgedCraft, {files, snapshots, crafts}: TextNow): Choice<string>[] => [
  ...files.map(({label, id}) => ({label, value: id})),
  ...(record.found?.controller ? [{label: 'what was found', value: 'found'}] : []),
  ...snapshots
    .filter((s) => s.controller)
    .map((s) => ({label: `snapshot ${s.name}, ${momentText(s.at)}`, value: s.id})),
  ...crafts.filter(({found}) => found.controller).map(({id, name}) => ({label: `${name}, as it was found`, value: id})),
];

interface OtherText {
  readonly label: string;
  readonly text: ControllerText;
  readonly carried: CarriedText | undefined;
  /** What it holds beside the fields; undefined where that cannot be held against what the controller describes. */
  readonly settings: HeldElsewhere | undefined;
}

function otherText(q: JudgedCraft, now: TextNow): OtherText | undefined {
  const source = sourceOf(q, now);
  if (!source) return undefined;
  const version = versionOf(q.record.found?.controller);
  const isOld = source.text.readAs !== version && source.text.lines.length > 0;
  const held = heldNow(q);
  return {
    ...{...source, carried: isOld ? carryText(source.text, version) : undefined},
    settings: held && (source.settings ?? settingsOfText(source.text, held)),
  };
}

/** Everything that the controller holds, by its own description. */
const heldNow = ({record}: JudgedCraft): HeldElsewhere | undefined =>
  record.found?.controller && heldBy(record.found.controller);

const heldBy = ({settings, identity}: FoundController): HeldElsewhere | undefined =>
  settings && {...settings, version: identity.version};

type Source = Omit<OtherText, 'carried' | 'settings'> & {readonly settings?: HeldElsewhere | undefined};

function sourceOf(q: JudgedCraft, now: TextNow): Source | undefined {
  const {files, snapshots, chosen} = now;
  const label = textChoices(q, now).find((c) => c.value === chosen)?.label;
  if (label === undefined) return undefined;
  const file = files.find((f) => f.id === chosen);
  if (file) return file;
  const controller = q.record.found?.controller;
  if (chosen === 'found') return {label, text: readText(written(controller, controller!.config)), settings: heldNow(q)};
  const own = now.crafts.find((c) => c.id === chosen)?.found.controller;
  if (own) return {label, text: readText(written(own, own.config)), settings: heldBy(own)};
  const snapshot = snapshots.find((s) => s.id === chosen)!;
  const text = readText(written(controller, snapshot.controller as ControllerConfig));
  return {label, text, settings: settingsHeldBy(snapshot)};
}

/** Lines that the other text gives; what it did not say, only its newer firmware would, is not offered as its word. */
function givenBy({text, carried}: OtherText): ControllerText {
  if (!carried) return text;
  const fresh = carried.report.filter((l) => l.fate === 'new').map((l) => l.to);
  const over = readText(carried.text);
  return {...over, lines: over.lines.filter((l) => !fresh.includes(pathOf(l)))};
}

function rowsOf(q: JudgedCraft, other: OtherText | undefined): TextRow[] {
  const held = heldNow(q);
  const rows = textRows({
    version: versionOf(q.record.found?.controller),
    found: q.record.found?.controller?.config,
    ...{plan: plannedOf(q), other: other && givenBy(other)},
  });
  if (!held || !other?.settings) return rows;
  const own = settingRows({held, planned: q.plan.settings, other: other.settings});
  // What a setting is has its own row: as a line that nobody knows it is not told again.
  const told = new Set(Object.keys(other.settings.values));
  return [...rows.filter((r) => r.field !== '' || !told.has(r.path)), ...own];
}

/** More changed lines than these are folded. */
const shortReport = 12;

function carriedSheet({from, to, report}: CarriedText): CarriedSheet {
  const told = report.filter((l) => l.fate !== 'kept');
  return {
    title: `Carried over from ${from} to ${to}: ${told.length} of ${counted(report.length, 'line')} changed place or value`,
    isShort: told.length < shortReport,
    lines: told.map(({fate, from: was, to: is, is: value, was: old, note}) => ({
      fate,
      path: was && is && was !== is ? `${was} → ${is}` : (was ?? is ?? ''),
      text: `${value ?? old}. ${note}`,
    })),
  };
}

function textSections(q: JudgedCraft, {onlyDiffering, taken}: TextNow, other: OtherText | undefined): TextSection[] {
  const shown = rowsOf(q, other).filter((r) => !onlyDiffering || r.differs.foundPlan || r.differs.otherPlan);
  const locks = q.record.found?.controller?.locks;
  return groupedBySection(shown).map(([name, own]) => {
    const takeable = own.filter(canTake).map((r) => r.path);
    return {
      ...{name: name || 'without a section', takeable},
      takeText: `all of ${name}, ${counted(takeable.length, 'line')}`,
      rows: own.map((r) => ({
        ...{path: r.path, key: r.key || 'all of it', meaning: r.meaning, expected: r.expected},
        ...{found: r.found ?? '–', plan: r.plan ?? '–', differs: r.differs.foundPlan},
        locked: r.differs.foundPlan ? lockNote(r.field, locks) : '',
        other: canTake(r) ? (r.other ?? '') : otherNote(r),
        ...{canTake: canTake(r), isTaken: taken.includes(r.path)},
      })),
    };
  });
}

const canTake = (row: TextRow): boolean =>
  (row.line !== undefined || row.setting !== undefined) && row.differs.otherPlan;

const otherNote = ({other, plan}: TextRow): string =>
  `${other ?? '–'}${other !== undefined && plan === undefined ? ', unknown to this firmware' : ''}`;

/** Fates of everything that a text of other firmware holds: of fields by their places, of the rest by its description. */
function fatesOf({carried, settings}: OtherText, held: HeldElsewhere | undefined): CarriedText['report'] {
  if (!held || !settings) return carried!.report;
  const own = new Set(Object.keys(settings.values));
  const others = carriedFrom(settings, held).map(
    ({fate, from, to, was, is, note}) =>
      ({
        fate: fate === 'split' ? 'renamed' : fate,
        ...{
          from,
          to,
          note,
          was: was === undefined ? undefined : shown(was),
          is: is === undefined ? undefined : shown(is),
        },
      }) satisfies CarriedText['report'][number],
  );
  return [...carried!.report.filter((l) => l.fate !== 'unknown' || !own.has(l.from ?? '')), ...others];
}

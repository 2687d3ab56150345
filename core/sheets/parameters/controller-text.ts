/** The whole configuration of the flight controller as text: found beside plan, and the lines of another text to plan. */
import {lockNote} from '../../controller/locks';
import {planOver, type ControllerConfig, type ControllerPlan} from '../../controller/plan';
import {carryText, type CarriedText} from '../../controller/text/carry-text';
import {textVersions, type TextVersion} from '../../controller/text/entries';
import {groupedBySection, pathOf, readText, type ControllerText} from '../../controller/text/read-text';
import {planFrom, textRows, type TextRow} from '../../controller/text/rows';
import {writeText, type LineToWrite} from '../../controller/text/write-text';
import {settingLines} from '../../controller/settings/setting-lines';
import type {Craft} from '../../craft/craft';
import type {FoundController} from '../../bench/found';
import type {Snapshot} from '../../snapshot/snapshot';
import {counted} from '../../words/counted';
import {momentText} from '../../words/moment';
import type {Choice} from '../choice';
import type {JudgedCraft} from '../craft-question';

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
  /** "found", or the id of a file or snapshot; undefined while no other text is looked at. */
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
    carried: other?.carried && carriedSheet(other.carried),
    sections: textSections(q, now, other),
    empty: controller ? 'Nothing differs.' : 'No flight controller was read yet: survey the bench over its cable.',
    isFound: controller !== undefined,
    planText: `Plan ${counted(now.taken.length, 'line')}`,
  };
}

/** As a file: with everything else that the controller holds, which no plan changes. */
export function textFile(q: JudgedCraft, of: 'found' | 'plan'): {readonly name: string; readonly content: string} {
  const controller = q.record.found?.controller;
  const config = of === 'plan' ? {...plannedOf(q), gyroHz: controller?.config.gyroHz} : controller!.config;
  const name = q.craft.name.toLowerCase().replace(/\W+/g, '-');
  return {
    name: `${name}-controller-${of}.toml`,
    content: written(controller, config as ControllerConfig, otherLines(controller)),
  };
}

/** The craft with the ticked lines of the other text in its plan. */
export function withTakenLines(craft: Craft, q: JudgedCraft, now: TextNow): Craft {
  const rows = rowsOf(q, otherText(q, now));
  const lines = rows.flatMap((r) => (r.line && now.taken.includes(r.path) ? [r.line] : []));
  const {props, ...fields} = planFrom(lines, versionOf(q.record.found?.controller), plannedOf(q));
  const plan = {...craft.plan, controller: {...craft.plan.controller, ...fields}};
  return {...craft, ...(props && {props}), plan};
}

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
  more: readonly LineToWrite[] = [],
): string {
  const version = versionOf(controller);
  const {firmware = 'Plumb', version: own = version, board = '', chip = ''} = controller?.identity ?? {};
  return writeText(config, {firmware, version: own, board, chip, more}, version);
}

const otherLines = (controller: FoundController | undefined): LineToWrite[] =>
  controller?.settings ? settingLines(controller.settings, controller.identity.version) : [];

const textChoices = ({record}: JudgedCraft, {files, snapshots}: TextNow): Choice<string>[] => [
  ...files.map(({label, id}) => ({label, value: id})),
  ...(record.found?.controller ? [{label: 'what was found', value: 'found'}] : []),
  ...snapshots
    .filter((s) => s.controller)
    .map((s) => ({label: `snapshot ${s.name}, ${momentText(s.at)}`, value: s.id})),
];

interface OtherText {
  readonly label: string;
  readonly text: ControllerText;
  readonly carried: CarriedText | undefined;
}

function otherText(q: JudgedCraft, now: TextNow): OtherText | undefined {
  const source = sourceOf(q, now);
  if (!source) return undefined;
  const version = versionOf(q.record.found?.controller);
  const isOld = source.text.readAs !== version && source.text.lines.length > 0;
  return {...source, carried: isOld ? carryText(source.text, version) : undefined};
}

function sourceOf(q: JudgedCraft, now: TextNow): Omit<OtherText, 'carried'> | undefined {
  const {files, snapshots, chosen} = now;
  const label = textChoices(q, now).find((c) => c.value === chosen)?.label;
  if (label === undefined) return undefined;
  const file = files.find((f) => f.id === chosen);
  if (file) return file;
  const controller = q.record.found?.controller;
  const config = chosen === 'found' ? controller!.config : snapshots.find((s) => s.id === chosen)!.controller;
  return {label, text: readText(written(controller, config as ControllerConfig))};
}

/** Lines that the other text gives; what it did not say, only its newer firmware would, is not offered as its word. */
function givenBy({text, carried}: OtherText): ControllerText {
  if (!carried) return text;
  const fresh = carried.report.filter((l) => l.fate === 'new').map((l) => l.to);
  const over = readText(carried.text);
  return {...over, lines: over.lines.filter((l) => !fresh.includes(pathOf(l)))};
}

const rowsOf = (q: JudgedCraft, other: OtherText | undefined): TextRow[] =>
  textRows({
    version: versionOf(q.record.found?.controller),
    found: q.record.found?.controller?.config,
    ...{plan: plannedOf(q), other: other && givenBy(other)},
  });

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

const canTake = (row: TextRow): boolean => row.line !== undefined && row.differs.otherPlan;

const otherNote = ({other, plan}: TextRow): string =>
  `${other ?? '–'}${other !== undefined && plan === undefined ? ', unknown to this firmware' : ''}`;

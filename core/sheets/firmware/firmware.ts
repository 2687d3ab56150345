/** What Firmware says of a craft: what its ESCs run, which images fit and why, and which pages would be written. */
import {firmwareText, type FoundEsc} from '../../bench/found';
import {sameJson} from '../../canonical-json';
import type {Craft} from '../../craft/craft';
import {fitOf} from '../../compare/esc-firmware';
import {oddFirmware} from '../../compare/odd-firmware';
import {plannedFirmware} from '../../craft/motor-firmware';
import {findChip} from '../../firmware/chips';
import {firmwareName, type FirmwarePlan} from '../../firmware/plan/firmware-plan';
import type {FitReason} from '../../firmware/plan/fit';
import {planBack, readFromEsc} from '../../firmware/plan/kept-application';
import {planPages, type PagePlan} from '../../firmware/plan/page-plan';
import {identityOf, type ImageFor} from '../../firmware/plan/planned-image';
import {releaseOf, type Release} from '../../firmware/releases';
import {writesImages} from '../../run/steps/step-kinds';
import {counted} from '../../words/counted';
import {dayText} from '../../words/moment';
import type {CraftQuestion} from '../craft-question';
import {escLine, type Cell, type EscLine} from '../survey/esc-line';
import {
  claimableFiles,
  firmwareCards,
  type Card,
  type Cards,
  type CardsQuestion,
  type ClaimableFile,
} from './firmware-cards';
import type {WorkNow} from '../order/work-now';

/** What the shelf has at hand. */
export interface ShelfNow {
  /** Undefined until the catalogue was read. */
  readonly releases: readonly Release[] | undefined;
  readonly own: CardsQuestion['own'];
  readonly imageOf: CardsQuestion['imageOf'];
  readonly imageFor: ImageFor;
  /** Reply modules that a base firmware takes. */
  readonly modulesFor: (board: string, family: string, version: string) => readonly Release[];
}

export interface FirmwareQuestion {
  readonly craft: CraftQuestion;
  readonly shelf: ShelfNow;
  readonly work: Pick<WorkNow, 'open'>;
  /** Outputs left out of the next order, and those whose image is written again in full. */
  readonly leave: readonly number[];
  readonly rewrite: readonly number[];
  /** Output whose reasons and map are shown; the odd one out where none was picked. */
  readonly picked: number | undefined;
}

interface FirmwareLine extends EscLine {
  readonly deadTime: string;
  readonly firmware: Cell;
  /** Firmware that is planned for this motor alone; empty where that of the craft is. */
  readonly own: string;
  readonly bootloader: string;
  readonly isSkipped: boolean;
}

interface Choice<T> {
  readonly label: string;
  readonly value: T;
}

interface CardsShown {
  /** Images that have what the plan wants, newest first. */
  readonly offered: readonly Card[];
  /** Those and the older ones that fit but lack something. */
  readonly all: readonly Card[];
  /** "3 older releases that lack what the plan wants"; empty where none is folded away. */
  readonly lacking: string;
  readonly refused: readonly {
    readonly id: string;
    readonly title: string;
    readonly what: string;
    readonly sign: string;
    readonly why: string;
  }[];
  readonly otherBoards: Cards['otherBoards'];
  /** "12 images are refused"; empty where none is. */
  readonly refusedText: string;
}

/** The firmware of one motor, like a parameter of its own. */
interface MotorFirmware {
  readonly motor: number;
  /** The craft's, which is empty, and what else its ESC may take. */
  readonly choices: (Choice<string> & {readonly firmware: FirmwarePlan | undefined})[];
  readonly value: string;
}

/** Why an image fits an ESC, and what it would write. */
interface WhyFits {
  readonly esc: FoundEsc;
  readonly title: string;
  readonly main: readonly FitReason[];
  /** What holds and needs no figures shares a line. */
  readonly also: string;
  /** The ESC runs it already. */
  readonly isSame: boolean;
  readonly isWrittenAgain: boolean;
  readonly plan: PagePlan;
  /** What changes on the way from the version that it runs to the planned one, release by release; of an older one, what goes. */
  readonly notes: {
    readonly goesBack: boolean;
    readonly lines: readonly {readonly version: string; readonly text: string}[];
  };
}

interface FirmwareSheet {
  readonly escs: readonly FirmwareLine[];
  /** ESCs whose board a person has to name. */
  readonly unknown: readonly FoundEsc[];
  readonly isOrderOpen: boolean;
  /** An order that writes images is open. */
  readonly isWriting: boolean;
  readonly cards: CardsShown;
  /** Own files that go on by a claim alone. */
  readonly claimable: readonly ClaimableFile[];
  /** Whether any ESC could take an image: its board is known. */
  readonly hasKnownBoard: boolean;
  /** PWM builds of the planned family for this board, kHz. */
  readonly builds: Choice<number>[];
  /** Reply modules that the planned base takes, and none. */
  readonly modules: Choice<string>[];
  readonly motors: Choice<number>[];
  readonly why: WhyFits | undefined;
  /** What is planned for the motor that is shown; undefined where there is one motor, or nothing to choose from. */
  readonly motorFirmware: MotorFirmware | undefined;
}

export function firmwareSheet(q: FirmwareQuestion): FirmwareSheet {
  const {found} = q.craft.record;
  const escs = found?.escs ?? [];
  const known = escs.filter((e) => e.hardware);
  const odd = new Set(oddFirmware(q.craft.craft.plan, escs));
  const cards = cardsShown(q);
  const steps = q.work.open?.order.steps ?? [];
  const shown = known.find((e) => e.output === q.picked) ?? known.find((e) => odd.has(e)) ?? known[0];
  return {
    escs: escs.map((esc) => lineOf(esc, odd.has(esc), q)),
    unknown: escs.filter((e) => !e.hardware),
    ...{isOrderOpen: q.work.open !== undefined, isWriting: steps.some(writesImages)},
    cards,
    hasKnownBoard: known.length > 0,
    claimable: found ? claimableFiles({craft: q.craft.craft, found, own: q.shelf.own}) : [],
    ...{builds: builds(q), modules: modules(q)},
    motors: known.map(({output}) => ({label: `motor ${output + 1}`, value: output})),
    why: shown && whyFits(shown, q),
    motorFirmware: shown && motorFirmware(shown, cards.all, q),
  };
}

const lineOf = (esc: FoundEsc, isOdd: boolean, {craft, leave}: FirmwareQuestion): FirmwareLine => ({
  ...escLine(esc, craft.craft),
  isSkipped: leave.includes(esc.output),
  deadTime: esc.hardware ? `${esc.hardware.deadTimeNs} ns` : '–',
  firmware: firmwareCell(esc, isOdd),
  own: ownText(esc.output, craft.craft),
  bootloader: `rev ${esc.boot.bootRevision}`,
});

function firmwareCell(esc: FoundEsc, isOdd: boolean): Cell {
  if (!esc.identity)
    return {text: esc.boot.applicationValid ? 'foreign firmware' : 'half-written, in its bootloader', isOff: true};
  return {text: isOdd ? `${firmwareText(esc)}, odd one out` : firmwareText(esc), isOff: isOdd};
}

const ownText = (output: number, {plan}: Craft): string => {
  const own = plannedFirmware(plan, output);
  return own === plan.firmware ? '' : firmwareName(own);
};

/** Cards by what they are: two files of one version are two choices. */
const cardFirmware = ({id, firmware, title, release}: Card) => ({
  ...{value: id, firmware},
  label: `${firmwareName(firmware)}${release ? '' : `, own file of ${title}`}`,
});

/** What was read out of this very ESC before other firmware replaced it. */
const waysBack = ({boot: {serial}}: FoundEsc, own: ShelfNow['own']) =>
  own.flatMap((file) => {
    const from = readFromEsc(file, serial);
    const label = from && `the firmware it came with, kept ${dayText(from.at)}`;
    return label === undefined ? [] : [{value: file.sha256, label, firmware: planBack(file.sha256)}];
  });

function motorFirmware(esc: FoundEsc, cards: readonly Card[], q: FirmwareQuestion): MotorFirmware | undefined {
  const {plan, arms} = q.craft.craft;
  const planned = plan.ownFirmware?.find((own) => own.motor === esc.output)?.firmware;
  const back = waysBack(esc, q.shelf.own);
  const others = [...(arms.length > 1 ? cards.filter((c) => !c.chosen).map(cardFirmware) : []), ...back];
  if (!others.length && !planned) return undefined;
  const known = others.find((o) => sameJson(o.firmware, planned));
  const value = known?.value ?? (planned ? firmwareName(planned) : '');
  return {
    ...{motor: esc.output, value},
    choices: [
      {label: `as the craft, ${firmwareName(plan.firmware)}`, value: '', firmware: undefined},
      ...others,
      // It is planned and not at hand: it is shown all the same.
      ...(planned && !known ? [{label: value, value, firmware: planned}] : []),
    ],
  };
}

/** The firmware that a choice for one motor means; undefined for that of the craft. */
export const chosenFirmware = (of: MotorFirmware | undefined, value: string): FirmwarePlan | undefined =>
  of?.choices.find((c) => c.value === value)?.firmware;

const noCards: Cards = {offered: [], refused: [], otherBoards: []};

function cardsShown({craft: {craft, record}, shelf}: FirmwareQuestion): CardsShown {
  const {found} = record;
  const {releases, own, imageOf} = shelf;
  const cards = found && releases ? firmwareCards({craft, found, releases, own, imageOf}) : noCards;
  const all = cards.offered;
  const lacking = all.filter((c) => c.verdict !== 'fits' && c.release?.standing === 'steady' && !c.chosen);
  // Where all lack something none is folded away.
  const folds = lacking.length > 0 && lacking.length < all.length;
  const count = cards.refused.length + cards.otherBoards.reduce((sum, b) => sum + b.count, 0);
  return {
    ...{all, offered: folds ? all.filter((c) => !lacking.includes(c)) : all, otherBoards: cards.otherBoards},
    lacking: folds ? counted(lacking.length, 'older release that lacks', 'older releases that lack') : '',
    refused: cards.refused.map(({id, title, release, why}) => ({
      ...{id, title, what: release ? release.variant : 'own file'},
      ...(release?.standing === 'withdrawn' ? {sign: 'withdrawn', why: release.note} : {sign: 'refused', why}),
    })),
    refusedText: count ? counted(count, 'image is refused', 'images are refused') : '',
  };
}

/** A loose ESC tells its board; on a craft the boards are entered. */
const boardOf = ({craft, record}: CraftQuestion): string =>
  craft.loose ? (record.found?.escs[0]?.hardware?.board ?? '') : craft.escBoard;

function builds({craft, shelf}: FirmwareQuestion): Choice<number>[] {
  const all = (shelf.releases ?? []).flatMap(({board, pwmKhz}) =>
    board === boardOf(craft) && pwmKhz !== undefined ? [pwmKhz] : [],
  );
  return [...new Set(all)].sort((a, b) => a - b).map((value) => ({label: `${value} kHz`, value}));
}

function modules({craft, shelf}: FirmwareQuestion): Choice<string>[] {
  const {family, version} = craft.craft.plan.firmware;
  const fitting = shelf.modulesFor(boardOf(craft), family, version).filter((r) => r.standing !== 'withdrawn');
  return fitting.length
    ? [{label: 'none', value: ''}, ...fitting.map((r) => ({label: r.version, value: r.version}))]
    : [];
}

const withFigures: ReadonlySet<FitReason['check']> = new Set(['flash', 'board', 'settings', 'pwm', 'same', 'base']);

function whyFits(esc: FoundEsc, q: FirmwareQuestion): WhyFits | undefined {
  const {hardware} = esc;
  const {craft, record} = q.craft;
  const {output} = esc;
  const planned = hardware && q.shelf.imageFor({output, hardware}, 'base');
  const chip = findChip(esc.boot.chip);
  if (!planned || !record.found || !chip) return undefined;
  const identity = identityOf(planned.image, hardware.chip, 'base');
  const asked = {craft, found: record.found, esc};
  const {reasons} = fitOf({...asked, planned, part: 'base'});
  const firmware = plannedFirmware(craft.plan, output);
  const module = firmware.module === undefined ? undefined : q.shelf.imageFor({output, hardware}, 'module');
  const ofModule = module ? fitOf({...asked, planned: module, part: 'module', identity}).reasons : [];
  const isMain = (r: FitReason) => r.verdict !== 'holds' || withFigures.has(r.check);
  const isWrittenAgain = q.rewrite.includes(esc.output);
  return {
    ...{esc, isWrittenAgain, title: identity?.version ?? planned.name},
    main: [...reasons.filter(isMain), ...ofModule.filter((r) => r.check === 'base' || r.verdict === 'refused')],
    also: reasons
      .filter((r) => !isMain(r))
      .map((r) => r.text)
      .join(' '),
    isSame: reasons.some((r) => r.check === 'same') && firmwareText(esc) === firmwareName(firmware),
    plan: planPages(chip, planned.image, isWrittenAgain ? [] : esc.pageCrcs),
    notes: notesBetween(q.shelf.releases ?? [], esc.identity, identity),
  };
}

/** The notes of the releases after one version up to the other, oldest first; none where the catalogue lacks either. */
function notesBetween(
  releases: readonly Release[],
  runs: FoundEsc['identity'],
  planned: FoundEsc['identity'],
): WhyFits['notes'] {
  const [from, to] = [runs && releaseOf(releases, runs), planned && releaseOf(releases, planned)];
  if (!from || !to || from.family !== to.family) return {goesBack: false, lines: []};
  const goesBack = from.date > to.date;
  const [first, last] = goesBack ? [to, from] : [from, to];
  // Every version has its note once, whatever boards it is built for.
  const between = releases.filter(
    (r) =>
      // What was withdrawn says why, and not what it brought.
      r.standing !== 'withdrawn' &&
      r.family === to.family &&
      r.variant === to.variant &&
      r.date > first.date &&
      r.date <= last.date,
  );
  const byVersion = new Map(between.map((r) => [r.version, r]));
  const inOrder = [...byVersion.values()].sort((a, b) => a.date.localeCompare(b.date));
  return {goesBack, lines: inOrder.map(({version, note}) => ({version, text: note}))};
}

/** The firmware plan with another reply module; an empty one is none. */
export const withModule = ({module: _, ...plan}: FirmwarePlan, module: string): FirmwarePlan => ({
  ...plan,
  ...(module && {module}),
});

/** Which images the Firmware station offers for a craft, and why the others are refused. */
import type {Craft} from '../../craft/craft';
import type {FirmwarePlan} from '../../firmware/plan/firmware-plan';
import {findChip, type AddressRange} from '../../firmware/chips';
import {extent, type Image} from '../../firmware/image';
import {debugFeature, mayBeAlike, tellingReason, type Fit} from '../../firmware/plan/fit';
import {planBack} from '../../firmware/plan/kept-application';
import {releaseTitle, type Release} from '../../firmware/releases';
import type {Found} from '../../bench/found';
import {fitOf} from '../../compare/esc-firmware';
import {identityOf} from '../../firmware/plan/planned-image';
import {type PlannedImage} from '../../firmware/plan/planned-image';
import {dayText} from '../../words/moment';

export interface Card {
  readonly id: string;
  readonly title: string;
  /** Undefined for a file of one's own. */
  readonly release: Release | undefined;
  readonly firmware: FirmwarePlan;
  readonly date: string;
  readonly sizeBytes: number;
  readonly fits: number;
  readonly of: number;
  readonly verdict: Fit['verdict'];
  readonly why: string;
  readonly chosen: boolean;
  /** What is asked before it is planned; empty where nothing is. */
  readonly asks: string;
}

export interface CardsQuestion {
  readonly craft: Craft;
  readonly found: Found;
  readonly releases: readonly Release[];
  readonly imageOf: (release: Release) => PlannedImage | undefined;
  readonly own: readonly (PlannedImage & {readonly addedAt: number; readonly sizeBytes: number})[];
}

export interface Cards {
  /** Newest first. */
  readonly offered: readonly Card[];
  readonly refused: readonly Card[];
  /** Releases of the same chip for other boards, by board. */
  readonly otherBoards: readonly {readonly board: string; readonly count: number; readonly why: string}[];
}

export function firmwareCards(q: CardsQuestion): Cards {
  const boards = new Set(q.found.escs.flatMap((e) => (e.hardware ? [e.hardware.board] : [])));
  const bases = q.releases.filter((r) => r.variant !== 'reply-module');
  const build = q.craft.plan.firmware.pwmKhz ?? bases.find((r) => boards.has(r.board) && r.pwmKhz)?.pwmKhz;
  const mine = bases.filter((r) => boards.has(r.board) && (r.pwmKhz === undefined || r.pwmKhz === build));
  const cards = [...mine.flatMap((r) => releaseCard(q, r)), ...q.own.flatMap((file) => ownCard(q, file))].sort((a, b) =>
    b.date.localeCompare(a.date),
  );
  return {
    offered: cards.filter((c) => c.verdict !== 'refused'),
    refused: cards.filter((c) => c.verdict === 'refused'),
    otherBoards: otherBoards(q, bases, boards),
  };
}

function releaseCard(q: CardsQuestion, release: Release): Card[] {
  const planned = q.imageOf(release);
  if (!planned) return [];
  const {family, version, pwmKhz, date, sizeBytes} = release;
  const now = q.craft.plan.firmware;
  const chosen = now.file === undefined && now.family === family && now.version === version && now.pwmKhz === pwmKhz;
  const firmware: FirmwarePlan = {
    family,
    version,
    ...(pwmKhz !== undefined && {pwmKhz}),
    ...(now.module !== undefined && {module: now.module}),
  };
  const fit = judge(q, planned);
  const why = fit.why ?? release.note;
  const title = releaseTitle({...release, variant: 'multirotor'});
  return [
    {
      ...fit,
      why,
      id: release.id,
      title,
      release,
      firmware,
      date,
      sizeBytes,
      chosen: chosen && fit.verdict !== 'refused',
      asks: askedOf(planned, release.chip),
    },
  ];
}

function ownCard(q: CardsQuestion, file: CardsQuestion['own'][number]): Card[] {
  const chip = q.found.escs[0]?.boot.chip;
  const identity = chip && identityOf(file.image, chip, 'base');
  if (!identity || identity.variant === 'reply-module') return [];
  const fit = judge(q, file);
  const {family, version, pwmKhz} = identity;
  return [
    {
      ...fit,
      why: fit.why ?? 'A file of your own: it is not signed.',
      id: file.sha256,
      title: version,
      release: undefined,
      firmware: {family, version, ...(pwmKhz !== undefined && {pwmKhz}), file: file.sha256},
      date: dayText(file.addedAt),
      sizeBytes: file.sizeBytes,
      chosen: q.craft.plan.firmware.file === file.sha256 && fit.verdict !== 'refused',
      asks: askedOf(file, chip),
    },
  ];
}

const askedOf = ({image}: PlannedImage, chip: string): string =>
  identityOf(image, chip, 'base')?.features.includes(debugFeature)
    ? 'This is a debug build. It may stop in flight where a finished build goes on.'
    : '';

/** An own file that goes on only by what a person says: it does not say what it is, or is for a board that may be built alike. */
export interface ClaimableFile {
  readonly sha256: string;
  readonly name: string;
  readonly why: string;
  /** The board whose name is typed to confirm it. */
  readonly board: string;
  /** What is planned with the claim. */
  readonly firmware: FirmwarePlan;
}

export function claimableFiles({craft, found, own}: Pick<CardsQuestion, 'craft' | 'found' | 'own'>): ClaimableFile[] {
  const hardware = found.escs.find((e) => e.hardware)?.hardware;
  if (!hardware || new Set(found.escs.map((e) => e.hardware?.board)).size > 1) return [];
  return own.flatMap(({sha256, name, image, readFrom}): ClaimableFile[] => {
    if (readFrom || craft.plan.firmware.file === sha256) return [];
    const file = {sha256, name, board: hardware.board};
    const identity = identityOf(image, hardware.chip, 'base');
    if (!identity) {
      const reaches = !findChip(hardware.chip) || !isInside(image, findChip(hardware.chip)!.application);
      return reaches ? [] : [{...file, why: 'It does not say what it is.', firmware: planBack(sha256)}];
    }
    if (identity.board === hardware.board || identity.variant !== 'multirotor' || !mayBeAlike(hardware, identity))
      return [];
    const {family, version, pwmKhz} = identity;
    return [
      {
        ...file,
        why: `It is made for ${identity.board}, with the same chip and dead time.`,
        firmware: {family, version, ...(pwmKhz !== undefined && {pwmKhz}), file: sha256},
      },
    ];
  });
}

const isInside = (image: Image, {start, end}: AddressRange): boolean => {
  const used = extent(image);
  return used !== undefined && used.start >= start && used.end <= end;
};

/** Verdict over all ESCs whose board is known, and the reason that decides it. */
function judge(
  q: CardsQuestion,
  planned: PlannedImage,
): Pick<Card, 'fits' | 'of' | 'verdict'> & {why: string | undefined} {
  const known = q.found.escs.filter((e) => e.hardware);
  const fits = known.map((esc) => fitOf({craft: q.craft, found: q.found, esc, planned, part: 'base'}));
  const worst = fits.find((f) => f.verdict === 'refused') ?? fits.find((f) => f.verdict === 'fits with care');
  return {
    fits: fits.filter((f) => f.verdict !== 'refused').length,
    of: q.found.escs.length,
    verdict: worst?.verdict ?? 'fits',
    why: worst && tellingReason(worst)?.text,
  };
}

function otherBoards(q: CardsQuestion, bases: readonly Release[], boards: ReadonlySet<string>): Cards['otherBoards'] {
  const chip = q.found.escs[0]?.boot.chip;
  const others = bases.filter((r) => !boards.has(r.board) && r.chip === chip);
  return [...new Set(others.map((r) => r.board))].flatMap((board) => {
    const same = others.filter((r) => r.board === board);
    const planned = q.imageOf(same[0]!);
    return planned ? [{board, count: same.length, why: judge(q, planned).why ?? ''}] : [];
  });
}

/** Releases of the service and own files: searched, kept, and what is said of each. */
import {failure, success, type Result} from '../../problem';
import {releaseTitle, type Release} from '../../firmware/releases';
import type {Choice} from '../choice';

type ReleaseStanding = Release['standing'];

export interface ShelfSearch {
  readonly text: string;
  readonly board: string | null;
  readonly family: string | null;
  readonly standing: ReleaseStanding | null;
  readonly feature: string | null;
}
export const wholeShelf: ShelfSearch = {text: '', board: null, family: null, standing: null, feature: null};

interface ShelfNow {
  readonly releases: readonly Release[];
  /** Digests of the images that are kept and checked here. */
  readonly isKept: (sha256: string) => boolean;
  readonly search: ShelfSearch;
}

interface ShelfSheet {
  readonly rows: ShelfRow[];
  readonly title: string;
  readonly keptCount: number;
  readonly boards: Choice<string>[];
  readonly families: Choice<string>[];
  readonly features: Choice<string>[];
  readonly standings: Choice<string>[];
}

export interface ShelfRow {
  readonly release: Release;
  readonly title: string;
  readonly isKept: boolean;
  readonly needs: string;
}

export function shelfSheet({releases, isKept, search}: ShelfNow): ShelfSheet {
  const shown = releases
    .filter((r) => matches(r, search))
    .sort((a, b) => b.date.localeCompare(a.date) || a.id.localeCompare(b.id));
  return {
    rows: shown.map((release) => ({
      ...{release, title: releaseText(release), isKept: isKept(release.sha256)},
      needs: release.needsController ? `requires a flight controller with ${release.needsController}` : '',
    })),
    title: `Releases, ${shown.length} of ${releases.length}`,
    keptCount: releases.filter((r) => isKept(r.sha256)).length,
    boards: choicesOf(releases.map((r) => r.board)),
    families: choicesOf(releases.map((r) => r.family)),
    features: choicesOf(releases.flatMap((r) => r.features)),
    standings: choicesOf(['steady', 'trial', 'withdrawn']),
  };
}

export const releaseText = (release: Release): string => `${release.family} ${releaseTitle(release)}`;

const choicesOf = (values: readonly string[]): Choice<string>[] =>
  [...new Set(values)].sort().map((value) => ({label: value, value}));

/** Every word of the search stands somewhere in what is said of the release. */
function matches(r: Release, {text, board, family, standing, feature}: ShelfSearch): boolean {
  const said = [r.family, releaseTitle(r), r.board, r.chip, r.variant, r.standing, r.note, ...r.features];
  const all = said.join(' ').toLowerCase();
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return (
    (!board || r.board === board) &&
    (!family || r.family === family) &&
    (!standing || r.standing === standing) &&
    (!feature || r.features.includes(feature)) &&
    words.every((word) => all.includes(word))
  );
}

/** A base address as a person types it. */
export function readAddress(typed: string): Result<number> {
  const text = typed.trim();
  if (/^(0x[0-9a-f]+|\d+)$/i.test(text)) return success(Number(text));
  return failure({
    code: 'base',
    place: 'base address',
    meaning: `"${text}" is not an address.`,
    remedy: 'Type it as 0x1000 or as a whole number.',
  });
}

/** Names of what the simulated service can do wrong. */
export const serviceFaultNames = {
  down: 'Service is down',
  altered: 'Catalogue altered on the way',
  older: 'Catalogue goes back in time',
  'image-altered': 'Images altered on the way',
  'image-cut': 'Images cut off',
  'image-wrong': 'Wrong image for a digest',
} as const;
export type ServiceFault = keyof typeof serviceFaultNames;

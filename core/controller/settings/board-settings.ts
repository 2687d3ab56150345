/**
 * Everything that a flight controller holds, read by its own description over the bench link. See docs/bench-link.md,
 * "Settings".
 */
import type {BenchClient} from '../../link/client';
import {settingsAtOnce, type SettingEntry, type SettingLine, type SettingValues} from '../../link/setting-shapes';
import {ProblemError} from '../../problem';
import {refusalOf} from '../../link/setting-accepts';

export interface BoardSettings {
  /** In the order of the sections. */
  readonly entries: readonly SettingEntry[];
  /** What it holds, by key: one for each entry. */
  readonly values: SettingValues;
}

/** Descriptions by firmware and the name that they have of their own: each is read once. */
const described = new Map<string, readonly SettingEntry[]>();
/** More than this many came from no bench of one person: they begin anew. */
const mostKept = 20;

/**
 * The whole description, and what is held with what was set and is not saved.
 *
 * @param firmware name and version that answers now.
 * @throws ProblemError with code "protocol-error" where description and values do not go together.
 */
export async function readSettings(client: BenchClient, firmware: string): Promise<BoardSettings> {
  const entries = await describedBy(client, firmware);
  const lines = await inPieces('settings.read', async (piece) => {
    const {count, lines: items} = await client.request('settings.read', piece);
    return {count, items};
  });
  const values = Object.fromEntries(lines.map(({key, value}) => [key, value]));
  const wrong = entries.find(({key, kind}) => values[key] === undefined || refusalOf(kind, values[key]));
  if (wrong) throw broken(`It describes "${wrong.key}", and holds no value of it that fits.`);
  const keys = new Set(entries.map(({key}) => key));
  if (keys.size !== entries.length || lines.length !== entries.length)
    throw broken(`It describes ${entries.length} settings and holds ${lines.length}.`);
  return {entries, values};
}

async function describedBy(client: BenchClient, firmware: string): Promise<readonly SettingEntry[]> {
  const {id} = await client.request('settings.describe', {from: 0, most: 1});
  const name = `${firmware} ${id}`;
  const kept = described.get(name);
  if (kept) return kept;
  const entries = await inPieces('settings.describe', async (piece) => {
    const told = await client.request('settings.describe', piece);
    if (told.id !== id) throw broken('Its description changed while it was read.');
    return {count: told.count, items: told.entries};
  });
  if (described.size >= mostKept) described.clear();
  described.set(name, entries);
  return entries;
}

/**
 * Sets lines, in pieces; not saved yet.
 *
 * @throws ProblemError naming the first line that was refused, with code "locked" where a state of the craft locks it, else
 *   "setting-refused". Nothing of its piece was set.
 */
export async function writeSettings(client: BenchClient, lines: readonly SettingLine[]): Promise<void> {
  for (let from = 0; from < lines.length; from += settingsAtOnce) {
    const piece = lines.slice(from, from + settingsAtOnce);
    const {wrong} = await client.request('settings.write', {lines: piece});
    if (!wrong) continue;
    throw new ProblemError({
      code: wrong.code === 'locked' ? 'locked' : 'setting-refused',
      place: `flight controller, ${piece[wrong.line]?.key ?? 'a setting'}`,
      meaning: `It was refused: ${wrong.text}`,
      remedy: 'Change that value in the plan, or leave the line out, then go on.',
    });
  }
}

type Piece = {readonly from: number; readonly most: number};
/** More pieces than this belong to no controller. */
const mostPieces = 300;

async function inPieces<T>(
  operation: string,
  read: (piece: Piece) => Promise<{readonly count: number; readonly items: readonly T[]}>,
): Promise<T[]> {
  const all: T[] = [];
  for (let pieces = 0; pieces < mostPieces; pieces++) {
    const {count, items} = await read({from: all.length, most: settingsAtOnce});
    all.push(...items);
    if (all.length === count) return all;
    if (!items.length || all.length > count) throw broken(`${operation} answered ${all.length} of ${count}.`);
  }
  throw broken(`${operation} has no end.`);
}

const broken = (meaning: string): ProblemError =>
  new ProblemError({
    code: 'protocol-error',
    place: 'flight controller, settings',
    meaning,
    remedy: 'Survey again. If it says so again, write down its firmware and version, and report it to its maker.',
  });

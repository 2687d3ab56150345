/** Craft and their way back, as the browser's store has them. */
import type {Craft} from '@core/craft/craft';
import {mergeEdits, type MergedEdits} from '@core/craft/merge-edits';
import {database} from './database';
import type {KeptEdit} from './kept-collection';
import {withLateStep, type History} from './late-history';

/** What an edit does to the way back: from the history as the store has it, so that one that was not read is not lost. */
export type HistoryStep = (history: History) => History;

const maxUndo = 200;
const noHistory: History = {past: [], future: []};

/** A craft goes onto the way back; what was taken back before is gone. */
export const onto =
  (craft: Craft): HistoryStep =>
  ({past}) => ({past: [...past, craft].slice(-maxUndo), future: []});

interface PutCraft extends MergedEdits<Craft> {
  /** What another tab had put there. */
  readonly theirs: Craft | undefined;
}

/** Puts a craft into the store; what another tab put there meanwhile is merged, never lost unseen. */
export async function putCraft(
  {row, steps}: KeptEdit<Craft, HistoryStep>,
  agreed: Craft | undefined,
): Promise<PutCraft> {
  return database.transaction('rw', database.craft, database.histories, async () => {
    const kept = await database.craft.get(row.id);
    const merged = agreed && kept ? mergeEdits(agreed, row, kept) : {value: row, conflicts: [], tookOver: false};
    await database.craft.put(merged.value);
    // The way back comes to the store with the edit, or neither does; another tab's craft goes onto it.
    const all = [...steps, ...(merged.conflicts.length && kept ? [onto(kept)] : [])];
    if (all.length) {
      const before = (await database.histories.get(row.id)) ?? noHistory;
      const {past, future} = all.reduce<History>((history, step) => step(history), before);
      await database.histories.put({craftId: row.id, past, future});
    }
    return {...merged, theirs: kept};
  });
}

/** An edit that never came to the store, with its way back. */
export const putLateCraft = (late: Craft): Promise<void> =>
  database.transaction('rw', database.craft, database.histories, async () => {
    const kept = await database.craft.get(late.id);
    await database.craft.put(late);
    if (!kept) return;
    const history = (await database.histories.get(late.id)) ?? noHistory;
    const {past, future} = withLateStep(history, kept, late);
    await database.histories.put({craftId: late.id, past: past.slice(-maxUndo), future});
  });

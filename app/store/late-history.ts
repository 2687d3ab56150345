/** The way back of an edit that a reload overtook: its step goes onto the history that the store kept, unless it is there. */
import type {Craft} from '@core/craft/craft';
import type {CraftHistory} from './database';

export type History = Omit<CraftHistory, 'craftId'>;

/** @param kept the craft as the store has it, before the edit. */
export function withLateStep({past, future}: History, kept: Craft, late: Craft): History {
  const isOf = (step: Craft | undefined, craft: Craft) => JSON.stringify(step) === JSON.stringify(craft);
  if (isOf(kept, late)) return {past, future};
  // The history may have come to the store before the craft did.
  if (isOf(past.at(-1), kept) || isOf(future[0], kept)) return {past, future};
  if (isOf(past.at(-1), late)) return {past: past.slice(0, -1), future: [kept, ...future]};
  if (isOf(future[0], late)) return {past: [...past, kept], future: future.slice(1)};
  return {past: [...past, kept], future: []};
}

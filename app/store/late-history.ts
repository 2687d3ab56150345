/** The way back of an edit that a reload overtook: its step goes onto the history that the store kept, unless it is there. */
import {canonicalJson} from '@core/canonical-json';
import type {Craft} from '@core/craft/craft';
import type {CraftHistory} from './database';

export type History = Omit<CraftHistory, 'craftId'>;

/** @param kept the craft as the store has it, before the edit. */
export function withLateStep({past, future}: History, kept: Craft, late: Craft): History {
  // A note that was read again has its fields in the order of the schema, a step in that of whoever made it.
  const isOf = (step: Craft | undefined, craft: Craft) =>
    step !== undefined && canonicalJson(step) === canonicalJson(craft);
  if (isOf(kept, late)) return {past, future};
  // The history may have come to the store before the craft did.
  if (isOf(past.at(-1), kept) || isOf(future[0], kept)) return {past, future};
  if (isOf(past.at(-1), late)) return {past: past.slice(0, -1), future: [kept, ...future]};
  if (isOf(future[0], late)) return {past: [...past, kept], future: future.slice(1)};
  return {past: [...past, kept], future: []};
}

/**
 * The last edit of a craft, noted at once: the browser's store takes a few milliseconds, and a page that is reloaded in
 * between would lose it. The note is gone as soon as the store has the edit.
 */
import {craftShape, type Craft} from '@core/craft/craft';

const key = 'bidex-late-edit';

/** Notes an edit; the text identifies it. A browser that keeps nothing has nothing to lose either. */
export function noteEdit(craft: Craft): string {
  const note = JSON.stringify(craft);
  try {
    localStorage.setItem(key, note);
  } catch {
    // Full or forbidden: the store itself will say so.
  }
  return note;
}

/** Takes the note away, unless a newer edit was noted since. */
export function forgetEdit(note: string): void {
  if (localStorage.getItem(key) === note) localStorage.removeItem(key);
}

/** The edit that the store never got; undefined when there is none or it does not read. */
export function lateEdit(): Craft | undefined {
  const note = localStorage.getItem(key);
  if (note === null) return undefined;
  localStorage.removeItem(key);
  try {
    const read = craftShape.safeParse(JSON.parse(note));
    return read.success ? read.data : undefined;
  } catch {
    // A note cut in the middle: the store's own copy stands.
    return undefined;
  }
}

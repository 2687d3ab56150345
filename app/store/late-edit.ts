/**
 * The last edit of a craft, noted at once: the browser's store takes a few milliseconds, and a page that is reloaded in
 * between would lose it. The note is gone as soon as the store has the edit.
 */
import {craftSchema, type Craft} from '@core/craft/craft';
import {readNote, writeNote} from './local-notes';

const key = 'bidex-late-edit';

/** Notes an edit; the text identifies it. A browser that keeps nothing has nothing to lose either. */
export function noteEdit(craft: Craft): string {
  const note = JSON.stringify(craft);
  writeNote(key, note);
  return note;
}

/** Takes the note away, unless a newer edit was noted since. */
export function forgetEdit(note: string): void {
  if (readNote(key) === note) writeNote(key, undefined);
}

/** The edit that the store never got; undefined when there is none or it does not read. Forget it once the store has it. */
export function lateEdit(): {readonly craft: Craft; readonly forget: () => void} | undefined {
  const note = readNote(key);
  if (note === undefined) return undefined;
  const forget = () => forgetEdit(note);
  try {
    const read = craftSchema.safeParse(JSON.parse(note));
    if (read.success) return {craft: read.data, forget};
  } catch {
    // A note cut in the middle: the store's own copy stands.
  }
  forget();
  return undefined;
}

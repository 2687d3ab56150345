/** What a refusing store means, and a remedy that can work. */

/** It could not be read: nothing stands in for it, and nothing is written over it. `what` begins the sentence. */
export function unreadText(error: unknown, what: string): string {
  if (isGone(error)) return gone;
  const name = error instanceof Error ? error.name : String(error);
  return `${what} could not be read (${name}). Nothing is written over it. Bidex tries again every two seconds; what you do meanwhile is kept as soon as it succeeds. If it does not, close other tabs of this address, or load the page again.`;
}

/** A sentence or two; `what` is what was to be kept or read. */
export function refusalText(error: unknown, what: string): string {
  if (isGone(error)) return gone;
  const name = error instanceof Error ? error.name : String(error);
  if (name === 'QuotaExceededError' || (error as {inner?: Error}).inner?.name === 'QuotaExceededError')
    return `The disk space of this browser is used up, so ${what} lasts until this tab closes. Save a backup, free space on this computer, then change something: it is kept again.`;
  return `This browser keeps nothing for this page (${name}), so ${what} lasts until this tab closes. Save a backup now. To keep things, allow site data for this address or leave private browsing, then reload the page.`;
}

/** What a store says that was deleted while this page had it open: see database.ts. */
export const deletedMeanwhile = 'It was deleted while this page had it open.';
/** Whether that is what lies behind an error: the store wraps the first fault in all that follow. */
const isGone = (error: unknown): boolean =>
  error instanceof Error && (error.message.includes(deletedMeanwhile) || isGone((error as {inner?: unknown}).inner));
const gone = 'What this browser kept for Bidex was deleted. Nothing more is written from this page. Load it again.';

/** A moment as every view shows it: "23 Nov 2026, 17:50". @param at epoch ms, or a date as text. */
export const momentText = (at: number | string): string =>
  new Date(at).toLocaleString('en-GB', {dateStyle: 'medium', timeStyle: 'short'});

/** The hour of something of today, the date too of something before. */
export const clockTime = (at: number): string =>
  new Date(at).toDateString() === new Date().toDateString()
    ? new Date(at).toLocaleTimeString('en-GB', {hour: '2-digit', minute: '2-digit'})
    : momentText(at);

/** "17:50:03": the second of a line in a journal. */
export const clockSeconds = (at: number): string => new Date(at).toLocaleTimeString('en-GB');

/** "2026-12-01": the day of a release or a file. */
export const dayText = (at: number | string): string => new Date(at).toISOString().slice(0, 10);

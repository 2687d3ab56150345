/** A moment as every view shows it: "23 Nov 2026, 17:50". */
export const when = (at: number | string): string =>
  new Date(at).toLocaleString('en-GB', {dateStyle: 'medium', timeStyle: 'short'});

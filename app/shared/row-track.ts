/**
 * Tells a table which row is which. A row that is computed anew keeps its place in the page: without this the
 * table builds every row again whenever anything of its sheet changes, and a press that began on a button of the
 * old row ends on one of the new row and counts for nothing.
 *
 * @param key What a row keeps for as long as it is the same row.
 */
export const rowsBy =
  <T>(key: (row: T) => string | number) =>
  (_place: number, row: T): string | number =>
    key(row);

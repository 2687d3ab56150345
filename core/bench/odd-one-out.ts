/** An ESC that differs from its siblings: one rule for every view. */

/**
 * Members of the groups that are smaller than the largest one. Two groups of the same size name nobody: nothing tells
 * which of them was left behind.
 */
export function oddOnesOut<T>(items: readonly T[], groupOf: (item: T) => string): T[] {
  const groups = new Map<string, T[]>();
  for (const item of items) groups.set(groupOf(item), [...(groups.get(groupOf(item)) ?? []), item]);
  const sizes = [...groups.values()].map((g) => g.length);
  const most = Math.max(0, ...sizes);
  if (sizes.filter((size) => size === most).length > 1) return [];
  return [...groups.values()].filter((g) => g.length < most).flat();
}

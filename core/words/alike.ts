/** Items of which the same is to be said, together: groups in the order of their first. */
export function alike<T>(items: readonly T[], said: (item: T) => string): T[][] {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const key = said(item);
    const group = groups.get(key);
    if (group) group.push(item);
    else groups.set(key, [item]);
  }
  return [...groups.values()];
}

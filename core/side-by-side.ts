/**
 * Works on every item at once and waits for all of them, whatever fails, so that nothing goes on behind its caller's back.
 * Then rejects with the first failure. Promise.all would return while the others still write.
 */
export async function sideBySide<T, R>(
  items: readonly T[],
  work: (item: T, index: number) => Promise<R>,
): Promise<R[]> {
  const settled = await Promise.allSettled(items.map(work));
  const failed = settled.find((s) => s.status === 'rejected');
  if (failed) throw failed.reason;
  return settled.flatMap((s) => (s.status === 'fulfilled' ? [s.value] : []));
}

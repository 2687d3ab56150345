/** "14 s", "2 min 5 s": a time that a person waits. */
export function duration(ms: number): string {
  const s = Math.round(ms / 1000);
  return s < 90 ? `${s} s` : `${Math.floor(s / 60)} min ${s % 60} s`;
}

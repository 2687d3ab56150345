/** "motor 3", "motors 2 and 3", "all motors": outputs counted from 0, named from 1. */
export function motorList(outputs: readonly number[], of: number): string {
  const names = outputs.map((o) => o + 1);
  if (names.length === of && of > 1) return 'all motors';
  if (names.length === 1) return `motor ${names[0]}`;
  return `motors ${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

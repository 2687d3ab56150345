/** The words of a column's name: "gyroRoll_raw[0]" is gyro, roll, raw, 0. Units written behind a name count as words. */
export function wordsOf(name: string): string[] {
  const parts = name
    .replace(/e-?rpm/gi, ' erpm ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Z]+)([A-Z][a-z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9µ°%]+/)
    .filter(Boolean);
  return parts.flatMap((part) => glued(part));
}

/** Words of the trade that stand without a gap between them, longest first. */
const known = [
  'unfiltered',
  'filtered',
  'throttle',
  'gyro',
  'erpm',
  'rpm',
  'roll',
  'pitch',
  'yaw',
  'motor',
  'esc',
  'raw',
];

/** "gyrox" is gyro, x; "rpm1" is rpm, 1; "m3" is m, 3. A word that is not made of known ones stays whole. */
function glued(part: string): string[] {
  const digits = /^([a-zµ]+)(\d+)$/.exec(part);
  if (digits) return [...glued(digits[1]!), digits[2]!];
  const behind = /^(\d+)([a-zµ]+)$/.exec(part);
  if (behind) return [behind[1]!, ...glued(behind[2]!)];
  if (known.includes(part)) return [part];
  for (const word of known) {
    if (part.startsWith(word)) {
      const rest = part.slice(word.length);
      if (/^[xyz]$/.test(rest) || known.some((k) => rest.startsWith(k)) || rest.length <= 1)
        return [word, ...glued(rest)].filter(Boolean);
    }
    if (part.endsWith(word) && known.some((k) => part.startsWith(k)))
      return [...glued(part.slice(0, -word.length)), word];
  }
  return [part];
}

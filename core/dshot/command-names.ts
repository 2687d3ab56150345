/** What commands 0 to 47 of DShot ask an ESC for (open trade protocol, from memory); the rest of them is reserved. */
const names: Readonly<Record<number, string>> = {
  0: 'stop',
  1: 'tone 1, lowest',
  2: 'tone 2',
  3: 'tone 3',
  4: 'tone 4',
  5: 'tone 5, highest',
  6: 'send version',
  7: 'turn one way',
  8: 'turn the other way',
  9: 'turn one way only',
  10: 'turn both ways',
  11: 'send settings',
  12: 'keep settings',
  13: 'extended replies on',
  14: 'extended replies off',
  20: 'turn as set',
  21: 'turn against what is set',
};

/** Commands that have a name, in their order. */
export const namedCommands: readonly {readonly value: number; readonly name: string}[] = Object.entries(names).map(
  ([value, name]) => ({value: Number(value), name}),
);

/** In words: a command, or throttle in steps of 2000. */
export function commandText(value: number): string {
  if (value >= 48) return `throttle ${value - 47} of 2000, ${(((value - 48) / 1999) * 100).toFixed(1)} %`;
  return names[value] ?? `command ${value}, reserved`;
}

/** "1 step", "3 steps", "2 boxes": a number of things, with its noun. @param many where it is not the noun with an s. */
export const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

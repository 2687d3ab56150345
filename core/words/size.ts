/** "1.5 KiB": how large a file is. */
export const kibText = (bytes: number): string => `${kib(bytes)} KiB`;

/** "0.5 of 1.5 KiB": how far a write is. */
export const kibOfText = (done: number, all: number): string => `${kib(done)} of ${kib(all)} KiB`;

const kib = (bytes: number): string => (bytes / 1024).toFixed(1);

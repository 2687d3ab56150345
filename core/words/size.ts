/** "1.5 KiB": how large a file is. */
export const kibText = (bytes: number): string => `${(bytes / 1024).toFixed(1)} KiB`;

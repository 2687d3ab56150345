/** Small notes beside the store. A browser that refuses them keeps none: nothing depends on them. */

export function readNote(key: string): string | undefined {
  try {
    return localStorage.getItem(key) ?? undefined;
  } catch {
    // Refused: as if nothing had been noted.
    return undefined;
  }
}

/** Notes a text, or takes the note away. */
export function writeNote(key: string, text: string | undefined): void {
  try {
    if (text === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, text);
  } catch {
    // Full or refused: the store itself says so where it matters.
  }
}

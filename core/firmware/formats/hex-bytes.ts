/** Hexadecimal digits to bytes, fast enough for images of many megabytes. */

/** Value of a digit by character code, 16 where it is none. */
const digitOf = new Uint8Array(128).fill(16);
for (const [i, c] of [...'0123456789ABCDEF'].entries()) {
  digitOf[c.charCodeAt(0)] = i;
  digitOf[c.toLowerCase().charCodeAt(0)] = i;
}

/** Index of the first character from `from` on that is no hexadecimal digit; −1 when all are. */
export function findNonHex(text: string, from: number): number {
  for (let i = from; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 127 || digitOf[code]! > 15) return i;
  }
  return -1;
}

/** Fresh bytes of the digits from `from` to the end; the caller has checked that they are digits, in pairs. */
export function hexBytes(text: string, from: number): Uint8Array {
  const bytes = new Uint8Array((text.length - from) >> 1);
  for (let i = 0, at = from; i < bytes.length; i++, at += 2)
    bytes[i] = (digitOf[text.charCodeAt(at)]! << 4) | digitOf[text.charCodeAt(at + 1)]!;
  return bytes;
}

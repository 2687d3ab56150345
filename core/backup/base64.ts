/** Base64 (RFC 4648 §4) of bytes inside JSON. */
const digits = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const valueOf = new Map([...digits].map((digit, value) => [digit.charCodeAt(0), value]));
const equals = 0x3d;

export function textOfBase64(bytes: Uint8Array): string {
  const pieces: string[] = [];
  for (let at = 0; at < bytes.length; at += 3) {
    const [a, b, c] = [bytes[at]!, bytes[at + 1], bytes[at + 2]];
    const word = (a << 16) | ((b ?? 0) << 8) | (c ?? 0);
    pieces.push(
      digits[word >> 18]! +
        digits[(word >> 12) & 63]! +
        (b === undefined ? '=' : digits[(word >> 6) & 63]!) +
        (c === undefined ? '=' : digits[word & 63]!),
    );
  }
  return pieces.join('');
}

/** Fresh bytes; undefined where the text is no base64. */
export function bytesOfBase64(text: string): Uint8Array | undefined {
  if (text.length % 4) return undefined;
  const pad = text.endsWith('==') ? 2 : text.endsWith('=') ? 1 : 0;
  const bytes = new Uint8Array((text.length / 4) * 3 - pad);
  for (let at = 0, out = 0; at < text.length; at += 4) {
    let word = 0;
    for (let k = 0; k < 4; k++) {
      const code = text.charCodeAt(at + k);
      const value = code === equals && at + k >= text.length - pad ? 0 : valueOf.get(code);
      if (value === undefined) return undefined;
      word = (word << 6) | value;
    }
    for (let k = 16; k >= 0 && out < bytes.length; k -= 8) bytes[out++] = (word >> k) & 0xff;
  }
  return bytes;
}

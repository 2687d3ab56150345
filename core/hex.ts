/** Numbers and bytes in hexadecimal, as people read them. */

/** Upper-case digits, at least `digits` of them. */
export const hexOf = (value: number, digits: number): string => value.toString(16).toUpperCase().padStart(digits, '0');

/** An address as people read it: four digits where they suffice, else eight. */
export const addressText = (address: number): string => `0x${hexOf(address, address > 0xffff ? 8 : 4)}`;

/** Bytes as pairs of lower-case digits, and back: how files and records keep them. */
export const hexOfBytes = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
export const bytesOfHex = (hex: string): Uint8Array =>
  Uint8Array.from(hex.match(/../g) ?? [], (pair) => parseInt(pair, 16));

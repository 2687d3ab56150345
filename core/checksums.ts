/**
 * The checksums of Bidex, in one place. CRC-32/ISO-HDLC guards flash pages and images,
 * CRC-16/IBM-3740 guards link frames and settings pages (names of the CRC catalogue).
 */
import crc16ccitt from 'crc/calculators/crc16ccitt';
import crc32Calculator from 'crc/calculators/crc32';

/** CRC-32/ISO-HDLC of `bytes`, unsigned. */
export function crc32(bytes: Uint8Array): number {
  return crc32Calculator(bytes) >>> 0;
}

/** CRC-16/IBM-3740 of `bytes`, 0…0xFFFF. */
export function crc16(bytes: Uint8Array): number {
  return crc16ccitt(bytes) & 0xffff;
}

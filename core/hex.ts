/** Numbers and bytes in hexadecimal, as people read them. */

/** Upper-case digits, at least `digits` of them. */
export const hexOf = (value: number, digits: number): string => value.toString(16).toUpperCase().padStart(digits, '0');

/** An address as people read it: four digits where they suffice, else eight. */
export const addressText = (address: number): string => `0x${hexOf(address, address > 0xffff ? 8 : 4)}`;

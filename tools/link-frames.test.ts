/**
 * The worked frames of docs/ are those of the code, and read by others: CBOR (RFC 8949) by cborg, SLIP (RFC 1055) and
 * CRC-16/IBM-3740 by a few lines that share nothing with core.
 */
import {readFileSync} from 'node:fs';
import {decode} from 'cborg';
import {describe, expect, it} from 'vitest';
import {conformanceRules} from '@core/conformance/check-adapter';
import {operations} from '@core/link/operations';
import {framesInWords, workedFrames, type WorkedFrame} from './link-frames';

const docs = new URL('../docs/', import.meta.url);
const kept = JSON.parse(readFileSync(new URL('formats/bench-link-frames.json', docs), 'utf8')) as WorkedFrame[];
const page = readFileSync(new URL('bench-link.md', docs), 'utf8');

/** Bit by bit, most significant first, as the catalogue of CRC algorithms states it. */
function crcBitwise(bytes: Uint8Array): number {
  let crc = 0xffff;
  for (const byte of bytes)
    for (let bit = 7; bit >= 0; bit--) {
      const out = ((crc >> 15) & 1) ^ ((byte >> bit) & 1);
      crc = ((crc << 1) & 0xffff) ^ (out ? 0x1021 : 0);
    }
  return crc;
}

function unslip(frame: string): Uint8Array {
  const inside = frame
    .replace(/^C0 | C0$/g, '')
    .replaceAll('DB DC', 'C0')
    .replaceAll('DB DD', 'DB');
  return Uint8Array.from(inside.split(' ').map((hex) => parseInt(hex, 16)));
}

const shown = (value: unknown): unknown =>
  value instanceof Uint8Array
    ? {hex: Buffer.from(value).toString('hex')}
    : Array.isArray(value)
      ? value.map(shown)
      : value && typeof value === 'object'
        ? Object.fromEntries(Object.entries(value).map(([k, v]) => [k, shown(v)]))
        : value;

describe('the test vectors', () => {
  it('are the ones the code makes', () => {
    expect(kept).toEqual(JSON.parse(JSON.stringify(workedFrames)));
  });

  it('have a request and an answer of every operation, in their shapes', () => {
    for (const what of ['request', 'answer'])
      expect(kept.filter((f) => f.what === what && f.operation !== 'any').map((f) => f.operation)).toEqual(
        Object.keys(operations),
      );
  });

  it.each(kept.map((f) => [`${f.what} of ${f.operation}`, f] as const))('%s reads elsewhere', (_, {message, frame}) => {
    const bytes = unslip(frame);
    const body = bytes.subarray(0, -2);
    expect(crcBitwise(body)).toBe((bytes.at(-2)! << 8) | bytes.at(-1)!);
    expect(shown(decode(body))).toEqual(message);
  });
});

describe('the page', () => {
  it('shows every worked frame and every rule as they are', () => {
    expect(page.replace(/\s+/g, ' ')).toContain(framesInWords().replace(/\s+/g, ' '));
    for (const {id, text} of conformanceRules) expect(page).toContain(`- \`${id}\`: ${text}`);
  });

  it('names every operation in its tables', () => {
    for (const operation of Object.keys(operations)) expect(page).toContain(`| \`${operation}\` `);
  });
});

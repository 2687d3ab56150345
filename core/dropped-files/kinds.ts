/**
 * What a dropped file is, from its first bytes: every kind that Bidex opens, looked for by the open format that it is in. A name
 * is only asked where bytes say nothing.
 */
import {readRtttl} from '../sounds/rtttl';

export const fileKinds = [
  'image',
  'capture',
  'flight log',
  'trace',
  'snapshot',
  'backup',
  'controller text',
  'melody',
] as const;
export type FileKind = (typeof fileKinds)[number];

/** So much of a file is looked at, bytes. */
export const headBytes = 64 * 1024;
/** So many rows of a table are looked at. */
const maxRows = 40;

interface FileHead {
  readonly name: string;
  /** The first {@link headBytes} at most, unpacked where the file is a gzip. */
  readonly bytes: Uint8Array;
}

/** Kinds that fit, the likeliest first; none where nothing does. A file may be cut at the end of its head. */
export function kindsOfFile({name, bytes}: FileHead): readonly FileKind[] {
  if (startsWith(bytes, [0x50, 0x4b, 0x03, 0x04])) return ['backup'];
  // The first magic number of UF2.
  if (startsWith(bytes, [0x55, 0x46, 0x32, 0x0a])) return ['image'];
  if (!bytes.length) return [];
  if (!isText(bytes)) return ['image'];
  const text = new TextDecoder().decode(bytes).replace(/^\uFEFF/, '');
  const begin = text.trimStart();
  if (/^:[0-9a-f]{10}/i.test(begin) || /^S[0-9][0-9a-f]{6}/i.test(begin)) return ['image'];
  if (/^\$(date|version|timescale|comment|scope|var|enddefinitions|dumpvars)\b/.test(begin)) return ['capture'];
  if (begin.startsWith('{')) return ['snapshot'];
  if (/^[^:\n]{0,80}:\s*([dob]\s*=\s*\d+\s*,?\s*)*:/.test(begin) && readRtttl(begin.split('\n')[0]!.trim()).ok)
    return ['melody'];
  if (isConfiguration(begin)) return ['controller text'];
  const table = tableKinds(text, bytes.length < headBytes);
  if (table.length) return table;
  return /\.bin$/i.test(name) ? ['image'] : [];
}

const startsWith = (bytes: Uint8Array, magic: readonly number[]): boolean => magic.every((b, i) => bytes[i] === b);

/** Text has no control characters but those that set it. */
const isText = (bytes: Uint8Array): boolean => bytes.every((b) => b >= 32 || (b >= 8 && b <= 13) || b === 27);

/** TOML in lines: a table's head or a key with its value, before anything else. */
function isConfiguration(text: string): boolean {
  const line = text.split('\n', 200).find((l) => l.trim() && !l.trim().startsWith('#')) ?? '';
  return /^\s*\[\[?[\w."'\s-]+\]\]?\s*(#.*)?$/.test(line) || /^\s*[\w."'-]+\s*=\s*\S/.test(line);
}

/** A table of numbers: a capture where all but time are levels, a trace or a flight log by the names of its columns. */
function tableKinds(text: string, isWhole: boolean): FileKind[] {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() && !/^\s*(#|\/\/)/.test(l));
  if (!isWhole) lines.pop();
  const separator = [';', '\t', ','].find((s) => lines[0]?.includes(s));
  if (separator === undefined) return [];
  const rows = lines.map((l) => l.split(separator).map((cell) => cell.trim().replace(/^"(.*)"$/, '$1')));
  // Some loggers write lines about the flight before the header.
  const widest = Math.max(...rows.slice(0, 200).map((r) => r.length));
  const from = rows.findIndex((r) => r.length === widest);
  const [first, ...others] = rows.slice(from, from + maxRows);
  if (!first || widest < 2) return [];
  const hasNames = first.some((cell) => cell !== '' && !isNumber(cell) && !isLevel(cell));
  const body = (hasNames ? others : [first, ...others]).filter((r) => r.length === widest);
  if (!body.length || !body.every((r) => r.some(isNumber))) return [];
  const names = hasNames ? first.map((n) => n.toLowerCase()) : [];
  if (names.some((n) => /gyr/.test(n))) return ['flight log'];
  if (names.includes('time_s') && names.some((n) => /^e?rpm_\d+$/.test(n))) return ['trace'];
  const areLevels = body.every((r) => r.slice(1).every((cell) => cell === '' || isLevel(cell)));
  if (areLevels) return ['capture'];
  return ['flight log', 'capture', 'trace'];
}

const isNumber = (cell: string): boolean => cell !== '' && Number.isFinite(Number(cell.replace(',', '.')));
const isLevel = (cell: string): boolean => /^([01](\.0+)?|[xzu-]|low|high|true|false)$/i.test(cell);

/**
 * A zip file with a seal: its archive comment holds the SHA-256 of everything before the comment, so that no altered bit
 * passes. Older ones have no seal; of them every entry's CRC-32 (PKWARE APPNOTE 4.4.7) is checked. What it would unpack to is read
 * from its directory first, and bounded.
 */
import {strFromU8, strToU8, Unzip, UnzipInflate, zipSync, type UnzipFile, type Zippable} from 'fflate';
import {crc32} from '../checksums';
import {sha256Hex} from '../firmware/releases';
import {failure, success, type Result} from '../problem';
import {grouped} from '../words/grouped';

/** Bounds of what a backup may unpack to. */
const maxEntries = 40_000;
export const maxBytes = 1024 * 2 ** 20;

const endSignature = 0x06054b50;
const entrySignature = 0x02014b50;
const endBytes = 22;
const sealText = 'bidex seal sha256 ';

/** Packs entries and seals the file. */
export function sealZip(entries: Zippable): Uint8Array {
  const zip = zipSync(entries, {level: 6});
  const seal = strToU8(sealText + sha256Hex(zip.subarray(0, zip.length - 2)));
  const sealed = new Uint8Array(zip.length + seal.length);
  sealed.set(zip);
  sealed.set(seal, zip.length);
  new DataView(sealed.buffer).setUint16(zip.length - 2, seal.length, true);
  return sealed;
}

interface DirectoryEntry {
  readonly name: string;
  readonly crc: number;
  readonly bytes: number;
}

interface Directory {
  readonly entries: readonly DirectoryEntry[];
  readonly isSealed: boolean;
}

/** Unpacks a zip whole, or says what is wrong with it. */
export function openZip(
  zip: Uint8Array,
  onProgress?: (share: number) => void,
): Result<ReadonlyMap<string, Uint8Array>> {
  const directory = readDirectory(zip);
  if (!directory.ok) return directory;
  const {entries, isSealed} = directory.value;
  const total = entries.reduce((sum, e) => sum + e.bytes, 0);
  if (entries.length > maxEntries || total > maxBytes)
    return refuse(
      'file',
      `It would unpack to ${grouped(entries.length)} entries of ${grouped(Math.ceil(total / 2 ** 20))} MiB in all; ` +
        `a backup has at most ${grouped(maxEntries)} and ${maxBytes / 2 ** 20} MiB.`,
    );
  const unpacked = unpack(zip, entries, onProgress);
  if (!unpacked.ok) return unpacked;
  for (const {name, crc, bytes} of entries) {
    const entry = unpacked.value.get(name);
    if (!entry) return refuse(name, 'It is in the directory of the zip, but not in the zip.');
    if (entry.length !== bytes || (!isSealed && crc32(entry) !== crc))
      return refuse(name, 'It does not unpack to what the zip says it is: it was altered or damaged.');
  }
  return unpacked;
}

/** Reads the directory at the end of a zip, and checks the seal where there is one. */
function readDirectory(zip: Uint8Array): Result<Directory> {
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  let end = -1;
  // The comment is at most as long as its length field can say.
  for (let at = zip.length - endBytes; at >= Math.max(0, zip.length - endBytes - 0xffff); at--)
    if (view.getUint32(at, true) === endSignature && at + endBytes + view.getUint16(at + 20, true) === zip.length) {
      end = at;
      break;
    }
  if (end < 0) return refuse('file', 'It is not a zip file, or it was cut off.');
  const comment = strFromU8(zip.subarray(end + endBytes), true);
  const isSealed = comment.length > 0;
  if (isSealed && comment !== sealText + sha256Hex(zip.subarray(0, end + 20)))
    return refuse('file', 'Its seal does not fit: at least one bit was altered since it was saved.');
  const entries: DirectoryEntry[] = [];
  let at = view.getUint32(end + 16, true);
  for (let left = view.getUint16(end + 10, true); left > 0; left--) {
    if (at + 46 > end || view.getUint32(at, true) !== entrySignature)
      return refuse('file', 'The directory of the zip is damaged.');
    const nameBytes = view.getUint16(at + 28, true);
    const next = at + 46 + nameBytes + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
    const name = strFromU8(zip.subarray(at + 46, at + 46 + nameBytes));
    entries.push({name, crc: view.getUint32(at + 16, true), bytes: view.getUint32(at + 24, true)});
    at = next;
  }
  if (at !== end) return refuse('file', 'The directory of the zip is damaged.');
  return success({entries, isSealed});
}

/** Bytes handed to the unpacker at once; progress is told after each. */
const pieceBytes = 1 << 18;

function unpack(
  zip: Uint8Array,
  entries: readonly DirectoryEntry[],
  onProgress?: (share: number) => void,
): Result<ReadonlyMap<string, Uint8Array>> {
  const wanted = new Map(entries.map((e) => [e.name, e.bytes]));
  const out = new Map<string, Uint8Array>();
  let wrong: string | undefined;
  const reader = new Unzip((file) => {
    const bytes = wanted.get(file.name);
    if (bytes === undefined || out.has(file.name)) {
      wrong ??= file.name;
      return;
    }
    const whole = new Uint8Array(bytes);
    out.set(file.name, whole);
    fill(whole, file, () => (wrong ??= file.name));
  });
  reader.register(UnzipInflate);
  try {
    for (let at = 0; at < zip.length && wrong === undefined; at += pieceBytes) {
      reader.push(zip.subarray(at, at + pieceBytes), at + pieceBytes >= zip.length);
      onProgress?.(Math.min(1, (at + pieceBytes) / zip.length));
    }
  } catch (error) {
    return refuse('file', `It does not unpack: ${error instanceof Error ? error.message : String(error)}.`);
  }
  return wrong === undefined
    ? success(out)
    : refuse(wrong, 'It does not unpack to what the zip says it is: it was altered or damaged.');
}

/** Unpacks a file into `whole`. More than fits is a trap: nothing of it is kept. */
function fill(whole: Uint8Array, file: UnzipFile, onWrong: () => void): void {
  let at = 0;
  file.ondata = (error, chunk) => {
    if (error || at + chunk.length > whole.length) {
      onWrong();
      file.terminate();
      return;
    }
    whole.set(chunk, at);
    at += chunk.length;
  };
  file.start();
}

export const refuse = (place: string, meaning: string) =>
  failure({
    code: 'bad-backup',
    place: `backup, ${place}`,
    meaning,
    remedy: 'Nothing was changed. Choose another backup file.',
  });

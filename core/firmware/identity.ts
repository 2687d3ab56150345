/**
 * The identity block: the first 96 bytes of every application image say for which hardware it is made
 * and how to check it. All numbers little-endian, texts ASCII padded with zeroes.
 *
 * | offset | size | field |
 * |---|---|---|
 * | 0 | 4 | magic "BDXI" |
 * | 4 | 1 | block version, 1 |
 * | 5 | 1 | layout revision of the settings page |
 * | 6 | 2 | features, bit set |
 * | 8 | 2 | bridge dead time, ns |
 * | 12 | 4 | image length from the application start, bytes |
 * | 16 | 4 | CRC-32/ISO-HDLC of the image behind the block |
 * | 20 | 16 | firmware family |
 * | 36 | 16 | variant |
 * | 52 | 12 | version |
 * | 64 | 16 | board |
 * | 80 | 8 | chip |
 * | 88 | 1 | PWM frequency built in, kHz; 0 where it is a parameter |
 * | 89 | 1 | lowest bootloader revision that can write it |
 * | 90 | 2 | reply module only: lowest version of its base, major and minor |
 * | 92 | 2 | reply module only: highest version of its base, major and minor |
 * | 94 | 2 | CRC-16/IBM-3740 of bytes 0…93 |
 */
import {crc16, crc32} from '../checksums';
import {failure, success, type Result} from '../problem';

export const identityBytes = 96;
const magic = [0x42, 0x44, 0x58, 0x49];

/** "debug": a build for whoever works on the firmware. */
export type Feature = 'replies' | 'speed-following-pwm' | 'melody' | 'debug';
const featureBits: readonly Feature[] = ['replies', 'speed-following-pwm', 'melody', 'debug'];

export interface Identity {
  readonly family: string;
  readonly version: string;
  readonly variant: string;
  readonly board: string;
  readonly chip: string;
  readonly deadTimeNs: number;
  readonly layoutRevision: number;
  readonly features: readonly Feature[];
  /** Bytes from the start of the application to its end. */
  readonly imageLength: number;
  readonly bodyCrc32: number;
  /** PWM frequency built into the image, kHz; undefined where it is a parameter. */
  readonly pwmKhz?: number;
  /** Lowest bootloader revision that can write it. */
  readonly bootRevision: number;
  /** Versions of the base firmware a reply module works with; only on reply modules. */
  readonly base?: VersionBounds;
}

/** Lowest and highest version, both included. */
export interface VersionBounds {
  readonly lowest: string;
  readonly highest: string;
}

/** Major and minor number of a version text; letters behind them do not count. */
function versionNumbers(version: string): readonly [number, number] {
  const parts = /^(\d+)\.(\d+)/.exec(version);
  return parts ? [Number(parts[1]), Number(parts[2])] : [0, 0];
}

/** Negative when `a` is older than `b`, 0 when they share major and minor number. */
export function compareVersions(a: string, b: string): number {
  const [left, right] = [versionNumbers(a), versionNumbers(b)];
  return left[0] - right[0] || left[1] - right[1];
}

export const isWithin = (version: string, {lowest, highest}: VersionBounds): boolean =>
  compareVersions(version, lowest) >= 0 && compareVersions(version, highest) <= 0;

export type IdentityFault = 'no-identity' | 'damaged-identity' | 'damaged-body' | 'cut-off';
export const identityFaultText: Readonly<Record<IdentityFault, string>> = {
  'no-identity': 'The image has no identity block, so nothing says for which board it was made.',
  'damaged-identity': 'The identity block does not match its own checksum.',
  'damaged-body': 'The image does not match the checksum in its identity block.',
  'cut-off': 'The image is shorter than its identity block says.',
};

/** The part of an identity that an image and a board must share, as text. */
export function signatureOf(hardware: {board: string; chip: string; deadTimeNs: number}): string {
  return `${hardware.board.toLowerCase().replaceAll(' ', '')}/${hardware.chip.toLowerCase()}/${hardware.deadTimeNs}ns`;
}

/** Reads an identity block from the start of an application. Does not look at the body. */
export function readIdentity(bytes: Uint8Array): Result<Identity, IdentityFault> {
  if (bytes.length < identityBytes || magic.some((value, i) => bytes[i] !== value)) return failure('no-identity');
  const view = new DataView(bytes.buffer, bytes.byteOffset, identityBytes);
  if (view.getUint16(94, true) !== crc16(bytes.subarray(0, 94))) return failure('damaged-identity');
  const text = (at: number, size: number) => String.fromCharCode(...bytes.subarray(at, at + size)).replace(/\0+$/, '');
  const bits = view.getUint16(6, true);
  const version = (at: number) => `${bytes[at]}.${bytes[at + 1]}`;
  return success({
    ...(bytes[88] && {pwmKhz: bytes[88]}),
    ...(bytes[90]! + bytes[91]! && {base: {lowest: version(90), highest: version(92)}}),
    bootRevision: bytes[89]!,
    layoutRevision: bytes[5]!,
    features: featureBits.filter((_, bit) => bits & (1 << bit)),
    deadTimeNs: view.getUint16(8, true),
    imageLength: view.getUint32(12, true),
    bodyCrc32: view.getUint32(16, true),
    family: text(20, 16),
    variant: text(36, 16),
    version: text(52, 12),
    board: text(64, 16),
    chip: text(80, 8),
  });
}

/** Checks a whole application as a bootloader does: block, length and body checksum. */
export function checkApplication(application: Uint8Array): Result<Identity, IdentityFault> {
  const reading = readIdentity(application);
  if (!reading.ok) return reading;
  const {imageLength, bodyCrc32} = reading.value;
  if (imageLength < identityBytes || imageLength > application.length) return failure('cut-off');
  if (crc32(application.subarray(identityBytes, imageLength)) !== bodyCrc32) return failure('damaged-body');
  return reading;
}

/** Fresh identity block for `body`, the bytes that follow it in the image. */
export function writeIdentity(identity: Omit<Identity, 'imageLength' | 'bodyCrc32'>, body: Uint8Array): Uint8Array {
  const block = new Uint8Array(identityBytes);
  const view = new DataView(block.buffer);
  const text = (at: number, size: number, value: string) => {
    if (value.length > size) throw new RangeError(`"${value}" is longer than the ${size} bytes of its field`);
    for (let i = 0; i < value.length; i++) block[at + i] = value.charCodeAt(i);
  };
  block.set(magic);
  block[4] = 1;
  block[5] = identity.layoutRevision;
  view.setUint16(
    6,
    identity.features.reduce((bits, f) => bits | (1 << featureBits.indexOf(f)), 0),
    true,
  );
  view.setUint16(8, identity.deadTimeNs, true);
  view.setUint32(12, identityBytes + body.length, true);
  view.setUint32(16, crc32(body), true);
  text(20, 16, identity.family);
  text(36, 16, identity.variant);
  text(52, 12, identity.version);
  text(64, 16, identity.board);
  text(80, 8, identity.chip);
  block[88] = identity.pwmKhz ?? 0;
  block[89] = identity.bootRevision;
  if (identity.base) block.set([...versionNumbers(identity.base.lowest), ...versionNumbers(identity.base.highest)], 90);
  view.setUint16(94, crc16(block.subarray(0, 94)), true);
  return block;
}

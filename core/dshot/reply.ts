/**
 * Replies of bidirectional DShot (open trade protocol): 16 bits in four nibbles, each as five bits of group code (GCR),
 * then a leading 0 and a level change for every 1, 21 line bits in all.
 */
import {failure, success, type Result} from '../problem';
import {commandChecksum} from './command';

/** Five bits for each nibble. */
export const groupCodes: readonly number[] = [
  0x19, 0x1b, 0x12, 0x13, 0x1d, 0x15, 0x16, 0x17, 0x1a, 0x09, 0x0a, 0x0b, 0x1e, 0x0d, 0x0e, 0x0f,
];
const nibbleOf = new Map(groupCodes.map((code, nibble) => [code, nibble]));

type ReplyFault = 'bad-group-code' | 'bad-checksum';

/** Period of one electrical turn in µs as the reply carries it; `stopped` for a motor at rest. */
export type ReplyPeriod = number | 'stopped';

/** 12 bits: exponent (3) and mantissa (9) of a period in µs. Longer periods than 511 << 7 mean stopped. */
export function encodePeriod(period: ReplyPeriod): number {
  if (period === 'stopped') return 0xfff;
  let exponent = 0;
  let mantissa = Math.round(period);
  while (mantissa > 0x1ff) {
    exponent++;
    mantissa = Math.round(period / 2 ** exponent);
  }
  return exponent > 7 ? 0xfff : (exponent << 9) | mantissa;
}

export function decodePeriod(twelveBits: number): ReplyPeriod {
  return twelveBits === 0xfff ? 'stopped' : (twelveBits & 0x1ff) << (twelveBits >> 9);
}

/** The four groups of five bits that 12 bits and their checksum are sent as. */
export function replyGroups(body: number): number[] {
  const checksum = commandChecksum(body, true);
  const word = (body << 4) | checksum;
  return [12, 8, 4, 0].map((shift) => groupCodes[(word >> shift) & 0xf]!);
}

/** The 21 line bits of a reply. */
export const encodeReply = (period: ReplyPeriod): number => lineOfGroups(replyGroups(encodePeriod(period)));

/** The 21 line bits of four groups: a leading 0, then a level change for each 1. */
export function lineOfGroups(groups: readonly number[]): number {
  const code = groups.reduce((all, group) => (all << 5) | group, 0);
  let line = 0;
  let level = 0;
  for (let bit = 19; bit >= 0; bit--) {
    level ^= (code >> bit) & 1;
    line = (line << 1) | level;
  }
  return line;
}

/** The 20 bits of code that 21 line bits stand for: a level change for each 1. */
export const codeOfLine = (line: number): number => (line ^ (line >> 1)) & 0xfffff;

/** Period of a reply from its 21 line bits. */
export function decodeReply(line: number): Result<ReplyPeriod, ReplyFault> {
  const body = decodeReplyBody(line);
  return body.ok ? success(decodePeriod(body.value)) : body;
}

/** The 12 bits that a reply carries, from its 21 line bits: what they mean depends on what the ESC was told to tell. */
export function decodeReplyBody(line: number): Result<number, ReplyFault> {
  const code = codeOfLine(line);
  let word = 0;
  for (let shift = 15; shift >= 0; shift -= 5) {
    const nibble = nibbleOf.get((code >> shift) & 0x1f);
    if (nibble === undefined) return failure('bad-group-code');
    word = (word << 4) | nibble;
  }
  const body = word >> 4;
  const checksum = commandChecksum(body, true);
  return (word & 0xf) === checksum ? success(body) : failure('bad-checksum');
}

/** eRPM of a period in µs: 60·10⁶ / period. */
export const erpmOfPeriod = (period: ReplyPeriod): number => (period === 'stopped' || period <= 0 ? 0 : 60e6 / period);

/** Period in µs of an eRPM; below 1 eRPM the motor counts as stopped. */
export const periodOfErpm = (erpm: number): ReplyPeriod => (erpm < 1 ? 'stopped' : 60e6 / erpm);

/** Mechanical rpm: eRPM / pole pairs. */
export const rpmOfErpm = (erpm: number, poles: number): number => erpm / (poles / 2);

/** Bits or a hex word, as someone copied them from somewhere: what they mean, or just what is wrong with them. */
import {commandChecksum} from './command';
import {commandText} from './command-names';
import {codeOfLine, decodePeriod, erpmOfPeriod, groupCodes, rpmOfErpm} from './reply';

interface BitsRead {
  readonly kind: 'command' | 'reply' | 'none';
  readonly ok: boolean;
  /** A sentence. */
  readonly text: string;
}

const none = (text: string): BitsRead => ({kind: 'none', ok: false, text});

/**
 * 16 bits or up to four hex digits are a command, plain or bidirectional as its checksum says; 20 bits are the code of a reply
 * and 21 its line bits, or up to six hex digits that begin with 0x.
 */
export function readBits(told: string, poles: number): BitsRead {
  const plain = told.replace(/[\s_'.-]/g, '');
  if (/^[01]{16}$/.test(plain)) return command(parseInt(plain, 2));
  if (/^[01]{20}$/.test(plain)) return reply(parseInt(plain, 2), poles);
  if (/^[01]{21}$/.test(plain)) return line(parseInt(plain, 2), poles);
  const hex = /^(0x)?([0-9a-f]{1,6})$/i.exec(plain)?.[2];
  if (hex === undefined)
    return none('Type 16 bits or a hex word of a command, 20 or 21 bits of a reply: 0 and 1, or hex digits.');
  const value = parseInt(hex, 16);
  if (hex.length <= 4) return command(value);
  return value < 1 << 21 ? line(value, poles) : none('A reply has 21 bits on the line: at most 0x1FFFFF.');
}

function command(word: number): BitsRead {
  const body = (word >> 4) & 0xfff;
  const told = word & 0xf;
  const [plain, inverted] = [commandChecksum(body, false), commandChecksum(body, true)];
  const meaning = `${commandText(body >> 1)}${body & 1 ? ', telemetry requested' : ''}`;
  if (told === plain || told === inverted)
    return {
      kind: 'command',
      ok: true,
      text: `Value ${body >> 1}: ${meaning}. Checksum ${hexOf(told)}, that of a ${told === plain ? 'plain' : 'bidirectional'} wire.`,
    };
  return {
    kind: 'command',
    ok: false,
    text: `Checksum ${hexOf(told)}; value ${body >> 1} (${meaning}) has ${hexOf(plain)} on a plain wire and ${hexOf(inverted)} on a bidirectional one.`,
  };
}

/** A level change for each 1 of the code; the first bit is low. */
function line(bits: number, poles: number): BitsRead {
  if (bits >> 20) return {kind: 'reply', ok: false, text: 'The first of 21 line bits is low: a reply begins with 0.'};
  return reply(codeOfLine(bits), poles);
}

function reply(code: number, poles: number): BitsRead {
  const groups = [15, 10, 5, 0].map((shift) => (code >> shift) & 0x1f);
  const nibbles = groups.map((group) => groupCodes.indexOf(group));
  const wrong = nibbles.indexOf(-1);
  if (wrong >= 0)
    return {
      kind: 'reply',
      ok: false,
      text: `Group ${wrong + 1} of 4 is ${groups[wrong]!.toString(2).padStart(5, '0')}, which is not a valid GCR code.`,
    };
  const [a, b, c, told] = nibbles as [number, number, number, number];
  const body = (a << 8) | (b << 4) | c;
  const due = commandChecksum(body, true);
  if (told !== due)
    return {kind: 'reply', ok: false, text: `Checksum ${hexOf(told)}; ${hexOf(body)} has ${hexOf(due)}.`};
  const period = decodePeriod(body);
  if (period === 'stopped') return {kind: 'reply', ok: true, text: `${hexOf(body)}: the motor has stopped.`};
  const erpm = erpmOfPeriod(period);
  return {
    kind: 'reply',
    ok: true,
    text: `${hexOf(body)}: a period of ${period} µs, ${erpm.toFixed(0)} eRPM; with ${poles} poles ${rpmOfErpm(erpm, poles).toFixed(0)} rpm.`,
  };
}

const hexOf = (value: number): string => `0x${value.toString(16).toUpperCase()}`;

/** The frames of a wire as one list in the order of time: each command, and on a bidirectional wire its reply after it. */
import {commandText} from '../../dshot/command-names';
import {protocolName} from '../../dshot/protocol';
import type {ReplyMeaning} from '../../dshot/reply-meaning';
import type {DecodedWire} from './decode-wire';
import {meaningOf, speedOf} from '../ask/figures';
import {firstWhere} from '../ask/first-where';

export interface Frame {
  /** Place in the list. */
  readonly row: number;
  readonly kind: 'command' | 'reply';
  /** Index of the command, or of the one that is answered. */
  readonly command: number;
  /** s; a reply that did not come stands where its command ends. */
  readonly from: number;
  readonly to: number;
  readonly ok: boolean;
  /** What it means, or what is wrong with it. */
  readonly text: string;
  /** Sixteen bits of a command, twelve of a reply; undefined where they do not read. */
  readonly bits: string | undefined;
}

const units = {temperature: '°C', voltage: 'V', current: 'A', stress: '', state: '', debug: ''} as const;
const whys = {gcr_code: 'wrong group code', checksum: 'wrong checksum'} as const;
/** Bits of a command, and of a reply in time of a command's bits. */
const [commandBits, replyBits] = [16, 21 * 0.8];

type Wire = Pick<DecodedWire, 'commands' | 'replies' | 'extended' | 'bidirectional' | 'rate'>;

export const frameCount = ({commands, bidirectional}: Wire): number => commands.length * (bidirectional ? 2 : 1);

/** @param poles undefined where nobody said how many: speeds stay electrical. */
export function frameAt(wire: Wire, row: number, poles: number | undefined): Frame {
  const command = wire.bidirectional ? row >> 1 : row;
  const isReply = wire.bidirectional && row % 2 === 1;
  return isReply ? replyFrame(wire, {row, command}, poles) : commandFrame(wire, {row, command});
}

function commandFrame({commands, rate}: Wire, {row, command}: {row: number; command: number}): Frame {
  const {t, value, telemetry, ok, word} = commands[command]!;
  const read = value === null ? 'does not read: not sixteen bits' : commandText(value);
  return {
    ...{row, kind: 'command', command, from: t, to: t + commandBits * (rate?.bitS ?? 0), ok},
    text: `${read}${telemetry ? ', telemetry requested' : ''}${ok || value === null ? '' : ', wrong checksum'}`,
    bits: word === null ? undefined : word.toString(2).padStart(commandBits, '0'),
  };
}

function replyFrame(wire: Wire, {row, command}: {row: number; command: number}, poles: number | undefined): Frame {
  const {t, status, why, body} = wire.replies[command]!;
  const bitS = wire.rate?.bitS ?? 0;
  const end = wire.commands[command]!.t + commandBits * bitS;
  const begin = t ?? end;
  const meaning = meaningOf(wire, command);
  return {
    ...{row, kind: 'reply', command, from: begin, to: t === null ? begin : begin + replyBits * bitS},
    ok: status === 'ok',
    text: meaning ? meaningText(meaning, poles) : why ? whys[why] : 'no reply',
    bits: body?.toString(2).padStart(12, '0'),
  };
}

function meaningText(meaning: ReplyMeaning, poles: number | undefined): string {
  if (meaning.kind === 'speed') {
    const {periodUs, erpm, rpm} = speedOf(meaning, poles)!;
    if (periodUs === undefined) return 'motor stopped';
    return `period ${periodUs} µs, ${rpm === undefined ? `${erpm.toFixed(0)} eRPM` : `${rpm.toFixed(0)} rpm`}`;
  }
  const name = meaning.kind === 'debug' ? `debug ${meaning.which}` : meaning.kind;
  return `${name} ${meaning.value} ${units[meaning.kind]}`.trim();
}

/** Rows of the frames that do not read, did not come or do not check. */
export function faultyRows({commands, replies, bidirectional}: Wire): Uint32Array {
  const rows: number[] = [];
  commands.forEach(({ok}, i) => {
    if (!ok) rows.push(bidirectional ? 2 * i : i);
    if (bidirectional && replies[i]!.status !== 'ok') rows.push(2 * i + 1);
  });
  return Uint32Array.from(rows);
}

/** Index of the first command that begins at this time or later. */
export function firstCommandFrom(commands: DecodedWire['commands'], time: number): number {
  return firstWhere(0, commands.length, (i) => commands[i]!.t >= time);
}

/** What a wire seems to carry, in words. */
export function carriedText({protocol, bidirectional, inverted}: DecodedWire): string {
  if (protocol === 'silent') return 'nothing: no change of level';
  if (protocol === 'unknown') return 'not known';
  const level = bidirectional ? ', bidirectional' : inverted ? ', inverted' : '';
  return `${protocolName[protocol]}${level}`;
}

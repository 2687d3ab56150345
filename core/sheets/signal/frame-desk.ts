/** What the frame desk says of one frame: a command and its reply as bits and levels with their times, and bits read back. */
import {writeVcd} from '../../capture/read/write-vcd';
import {encodeCommand} from '../../dshot/command';
import {commandText, namedCommands} from '../../dshot/command-names';
import {digitalProtocols, isDigital, protocolName, type DigitalProtocol, type Protocol} from '../../dshot/protocol';
import {readBits} from '../../dshot/read-bits';
import {encodePeriod, encodeReply, periodOfErpm, replyGroups} from '../../dshot/reply';
import {commandEdges, replyEdges, type Edge} from '../../dshot/waveform';
import {wireTime, type WireTime} from '../../dshot/wire-time';
import type {Choice} from '../choice';
export type {DigitalProtocol, Edge};

/** A frame as it is laid out. */
export interface DeskFrame {
  /** 0…47 commands, from 48 on throttle. */
  readonly value: number;
  readonly telemetry: boolean;
  readonly protocol: DigitalProtocol;
  readonly isBidirectional: boolean;
  /** Speed that the reply tells, rpm, of a motor with so many poles. */
  readonly rpm: number;
  readonly poles: number;
}

interface FrameSheet {
  /** The command that is named; −1 for throttle and for one without a name. */
  readonly named: number;
  readonly meaning: string;
  readonly hex: string;
  readonly command: {readonly value: string; readonly telemetry: string; readonly checksum: string};
  readonly reply: ReplyBits;
  readonly wire: WireTime;
  readonly times: string;
  readonly edges: readonly Edge[];
}

interface ReplyBits {
  /** µs of an electrical turn; undefined for a motor that stands. */
  readonly periodUs: number | undefined;
  readonly exponent: string;
  readonly mantissa: string;
  readonly groups: readonly string[];
  readonly line: string;
}

/** Highest speed that a reply carries well, rpm. */
export const maxDeskRpm = 200_000;
const maxValue = 2047;
/** First value that is throttle. */
export const firstThrottle = 48;

export const deskProtocols: Choice<DigitalProtocol>[] = digitalProtocols.map((value) => ({
  value,
  label: protocolName[value],
}));
export const deskCommands: Choice<number>[] = [
  {value: -1, label: 'throttle'},
  ...namedCommands.map(({value, name}) => ({value, label: `${value}, ${name}`})),
];

/** The protocol that the desk begins with: the planned one, where it has frames. */
export const deskProtocol = (planned: Protocol): DigitalProtocol => (isDigital(planned) ? planned : 'dshot300');

/** The nearest value that a frame carries. */
export const deskValue = (value: number): number => Math.min(maxValue, Math.max(0, Math.round(value)));

const bitsOf = (value: number, length: number): string => value.toString(2).padStart(length, '0');

export function frameSheet(frame: DeskFrame): FrameSheet {
  const {value, telemetry, protocol, isBidirectional} = frame;
  const word = encodeCommand({value, telemetryRequest: telemetry}, isBidirectional);
  const bits = bitsOf(word, 16);
  const period = periodOfErpm((frame.rpm * frame.poles) / 2);
  const wire = wireTime(protocol, isBidirectional);
  const {commandUs, pauseUs, replyUs, totalUs} = wire;
  const reply = replyUs ? `, pause about ${pauseUs} µs, reply ${replyUs.toFixed(1)} µs` : '';
  return {
    named: value < firstThrottle && namedCommands.some((c) => c.value === value) ? value : -1,
    meaning: commandText(value),
    hex: `0x${word.toString(16).toUpperCase().padStart(4, '0')}`,
    command: {value: bits.slice(0, 11), telemetry: bits[11]!, checksum: bits.slice(12)},
    reply: replyBits(period),
    times: `command ${commandUs.toFixed(1)} µs${reply}, in all ${totalUs.toFixed(1)} µs`,
    edges: [
      ...commandEdges(word, protocol, isBidirectional),
      ...(isBidirectional ? replyEdges(encodeReply(period), protocol) : []),
    ],
    wire,
  };
}

function replyBits(period: ReturnType<typeof periodOfErpm>): ReplyBits {
  const body = encodePeriod(period);
  return {
    periodUs: period === 'stopped' ? undefined : period,
    ...{exponent: bitsOf(body >> 9, 3), mantissa: bitsOf(body & 0x1ff, 9)},
    groups: replyGroups(body).map((group) => bitsOf(group, 5)),
    line: bitsOf(encodeReply(period), 21),
  };
}

/** Before and after a frame that is saved, µs. */
const [leadUs, tailUs] = [50, 100];

/** The frame as a dump of its wire, of the format of IEEE 1364. */
export function frameFile({protocol, value, isBidirectional}: DeskFrame, {edges, wire: times}: FrameSheet) {
  const wire = {
    name: 'frame.motor',
    first: isBidirectional ? 1 : 0,
    edges: Float64Array.from(edges, (e) => (e.us + leadUs) * 1e-6),
    unknown: new Float64Array(0),
  } as const;
  return {name: `${protocol}-${value}.vcd`, text: writeVcd([wire], (times.totalUs + leadUs + tailUs) * 1e-6)};
}

/** What typed bits mean, or what is wrong with them; undefined where none were typed. */
export const readTyped = (typed: string, poles: number) => (typed.trim() ? readBits(typed, poles) : undefined);

/** What a wire carries: its protocol, every command and reply with a verdict, and what they add up to. */
import {extendedOff, extendedOn, timesToTake} from '../dshot/reply-meaning';
import {findBitRate, type BitRate} from './bit-rate';
import {leadingFrom, restLevel} from './bursts';
import type {Capture, Level, Wire} from './capture';
import {commandOf, isBidirectional, readBurst, unreadCommand, type CommandFrame, type ReadCommand} from './commands';
import {withoutGlitches} from './glitches';
import {pulseKind} from './pulses';
import type {PulseProtocol} from '../dshot/protocol';
import {badReply, earliestS, latestS, missingReply, readReply, replyEnd, type ReadReply} from './reply-frames';

export interface DecodedWire {
  readonly name: string;
  readonly protocol: BitRate['protocol'] | PulseProtocol | 'unknown' | 'silent';
  readonly rate: BitRate | undefined;
  /** The level at rest is high. */
  readonly inverted: boolean;
  readonly bidirectional: boolean;
  readonly commands: readonly ReadCommand[];
  /** One for each command of a bidirectional wire. */
  readonly replies: readonly ReadReply[];
  /** For each reply: whether the ESC had been told to tell more than speeds. */
  readonly extended: readonly boolean[];
  readonly glitches: number;
  /** Leading edges of commands around their grid, standard deviation, ns. */
  readonly jitterNs: number | undefined;
  /** Median time from the end of a command to its reply, µs. */
  readonly turnaroundUs: number | undefined;
}

export function decodeWire(wire: Wire, {to}: Pick<Capture, 'to'>): DecodedWire {
  const {edges, glitches} = withoutGlitches(wire.edges);
  const clean = {...wire, edges};
  const rest = restLevel(clean, to);
  const nothing = (protocol: DecodedWire['protocol']): DecodedWire => ({
    ...{name: wire.name, protocol, rate: undefined, inverted: rest === 1, bidirectional: false},
    ...{commands: [], replies: [], extended: [], glitches, jitterNs: undefined, turnaroundUs: undefined},
  });
  if (edges.length < 2) return nothing('silent');
  if (rest === undefined) return nothing('unknown');
  const lead = leadingFrom(clean, rest);
  const rate = findBitRate(edges, lead);
  if (!rate) return nothing(pulseKind(edges, lead) ?? 'unknown');
  return {...nothing(rate.protocol), rate, ...framesOf(clean, rest, rate)};
}

interface Found {
  readonly frame: CommandFrame;
  /** Edges of the burst that came where a reply is due. */
  readonly reply: readonly [number, number] | undefined;
}

function framesOf(
  wire: Wire,
  rest: Level,
  rate: BitRate,
): Pick<DecodedWire, 'bidirectional' | 'commands' | 'replies' | 'extended' | 'jitterNs' | 'turnaroundUs'> {
  const {edges, unknown} = wire;
  const found = burstsOf(edges, leadingFrom(wire, rest), rate);
  const words = found.map(({frame}) => frame.word).filter((word) => word !== undefined);
  const bidirectional = isBidirectional(words);
  const whole = bidirectional ? found : apart(found, edges, rate);
  const isUnknown = touches(unknown);
  const commands = whole.map(({frame}) => {
    const end = frame.t + 16 * rate.bitS;
    return isUnknown(frame.t, end) ? unreadCommand(frame.t) : commandOf(frame, bidirectional);
  });
  const hidden = touches(unknown);
  const replies = !bidirectional
    ? []
    : whole.map(({reply}, command) => {
        if (!reply) return missingReply(command);
        const [t, end] = [edges[reply[0]]!, edges[reply[1] - 1]!];
        if (hidden(t, end)) return badReply(t, command, 'gcr_code');
        return readReply(edges, reply, {bitS: rate.bitS, command});
      });
  let [jitter, read] = [0, 0];
  for (const {frame} of found)
    if (frame.word !== undefined) {
      jitter += frame.jitterS2;
      read++;
    }
  const turnarounds = new Float64Array(replies.length);
  let answered = 0;
  for (const {t, command} of replies)
    if (t !== null) turnarounds[answered++] = t - whole[command]!.frame.t - 16 * rate.bitS;
  return {
    ...{bidirectional, commands, replies, extended: toldToExtend(commands)},
    jitterNs: read ? Math.sqrt(jitter / read) * 1e9 : undefined,
    turnaroundUs: answered ? median(turnarounds.subarray(0, answered)) * 1e6 : undefined,
  };
}

/** Every burst: a command, or what came after one where its reply is due. */
function burstsOf(edges: Float64Array, lead: number, rate: BitRate): Found[] {
  const found: Found[] = [];
  for (let i = lead; i < edges.length;) {
    const {frame, next} = readBurst(edges, i, rate);
    const last = found.at(-1);
    const since = last && edges[i]! - last.frame.t - 16 * rate.bitS;
    const isDue = since !== undefined && since >= earliestS && since <= latestS && !last!.reply;
    if (frame.word === undefined && isDue) {
      const end = replyEnd(edges, i, rate.bitS);
      found[found.length - 1] = {frame: last!.frame, reply: [i, end]};
      // From the next edge that leaves the level at rest.
      i = end + ((end - i) % 2);
      continue;
    }
    // What was cut by the begin or the end of the capture is no frame.
    const isCut = frame.word === undefined && (i === lead || next >= edges.length);
    if (!isCut) found.push({frame, reply: undefined});
    i = next;
  }
  return found;
}

/** On a wire without replies, what came after a command is a frame that does not read. */
const apart = (found: readonly Found[], edges: Float64Array, rate: BitRate): Found[] =>
  found.flatMap(({frame, reply}) => [
    {frame, reply: undefined},
    ...(reply ? [{frame: readBurst(edges, reply[0], rate).frame, reply: undefined}] : []),
  ]);

/** For each command whether the ESC had been told by then to tell more than speeds. */
function toldToExtend(commands: readonly ReadCommand[]): boolean[] {
  let [extended, value, times] = [false, -1, 0];
  return commands.map((command) => {
    times = command.ok && command.value === value ? times + 1 : 1;
    value = command.ok ? command.value! : -1;
    if (times === timesToTake && (value === extendedOn || value === extendedOff)) extended = value === extendedOn;
    return extended;
  });
}

/** Whether a span touches one in which nobody knew the level; to be asked of spans that begin ever later. */
function touches(unknown: Float64Array): (from: number, to: number) => boolean {
  let i = 0;
  return (from, to) => {
    while (i < unknown.length && unknown[i + 1]! <= from) i += 2;
    return i < unknown.length && unknown[i]! < to;
  };
}

const median = (values: Float64Array): number => values.sort()[values.length >> 1]!;

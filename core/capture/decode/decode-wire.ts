/** What a wire carries: its protocol, every command and reply with a verdict, and what they add up to. */
import {extendedOff, extendedOn, timesToTake} from '../../dshot/reply-meaning';
import {commandBits, findBitRate, type BitRate} from './bit-rate';
import {endsWithin, firstWhole, isReplyCut} from '../read/cut';
import {leadingFrom, restLevel} from './bursts';
import type {Capture, Wire} from '../read/capture';
import {commandOf, isBidirectional, readBurst, unreadCommand, type CommandFrame, type ReadCommand} from './commands';
import {withoutGlitches} from './glitches';
import {pulsesOf} from './pulses';
import {timeGrid} from '../read/time-grid';
import type {PulseProtocol} from '../../dshot/protocol';
import {badReply, earliestS, latestS, endOfReply, missingReply, readReply, type ReadReply} from './reply-frames';
import {median} from '../../numbers/median';

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
  /** Time between two samples of the analyser, s; undefined where its edges show no grid. */
  readonly sampleS: number | undefined;
  /** Leading edges of commands around their grid, standard deviation, ns. */
  readonly jitterNs: number | undefined;
  /** Median time from the end of a command to its reply, µs. */
  readonly turnaroundUs: number | undefined;
}

export function decodeWire(wire: Wire, {from, to}: Pick<Capture, 'from' | 'to'>): DecodedWire {
  const {edges, glitches} = withoutGlitches(wire.edges);
  const clean = {...wire, edges};
  const rest = restLevel(clean, to);
  const nothing = (protocol: DecodedWire['protocol'], level = rest): DecodedWire => ({
    ...{name: wire.name, protocol, rate: undefined, inverted: level === 1, bidirectional: false},
    ...{commands: [], replies: [], extended: [], glitches, sampleS: timeGrid(wire.edges)},
    ...{jitterNs: undefined, turnaroundUs: undefined},
  });
  if (edges.length < 2) return nothing('silent');
  const lead = rest === undefined ? undefined : leadingFrom(clean, rest);
  const rate = lead === undefined ? undefined : findBitRate(edges, lead);
  if (lead === undefined || !rate) {
    // A pulse may be longer than the pause to the next: the level at rest says nothing of it.
    const pulses = pulsesOf(clean);
    return nothing(pulses?.protocol ?? 'unknown', pulses?.rest);
  }
  const begin = firstWhole(edges, lead, {from, bitS: rate.bitS});
  return {...nothing(rate.protocol), rate, ...framesOf(clean, begin, {rate, to})};
}

interface Found {
  readonly frame: CommandFrame;
  /** Edges of the burst that came where a reply is due, from and before these; 0 and 0 where none came. */
  replyBegin: number;
  replyEnd: number;
}

function framesOf(
  {edges, unknown}: Wire,
  begin: number,
  {rate, to}: {readonly rate: BitRate; readonly to: number},
): Pick<DecodedWire, 'bidirectional' | 'commands' | 'replies' | 'extended' | 'jitterNs' | 'turnaroundUs'> {
  const bidirectional = hasReplies(edges, begin, {rate, to});
  const whole = burstsOf(edges, begin, {rate, to, bidirectional});
  const isUnknown = touches(unknown);
  const commands = whole.map(({frame}) => {
    const end = frame.t + commandBits * rate.bitS;
    return isUnknown(frame.t, end) ? unreadCommand(frame.t) : commandOf(frame, bidirectional);
  });
  const replies = bidirectional ? repliesOf(whole, edges, {unknown, bitS: rate.bitS}) : [];
  const pauseS = medianPause(whole, replies, rate.bitS);
  const [last, due] = [replies.at(-1), (whole.at(-1)?.frame.t ?? 0) + commandBits * rate.bitS];
  if (last && isReplyCut(last, {due, to, pauseS, bitS: rate.bitS})) {
    commands.pop();
    replies.pop();
  }
  return {
    ...{bidirectional, commands, replies, extended: toldToExtend(commands), jitterNs: jitterOf(whole)},
    turnaroundUs: pauseS === undefined ? undefined : pauseS * 1e6,
  };
}

function repliesOf(
  whole: readonly Found[],
  edges: Float64Array,
  {unknown, bitS}: {readonly unknown: Float64Array; readonly bitS: number},
): ReadReply[] {
  const hidden = touches(unknown);
  return whole.map(({replyBegin, replyEnd}, command) => {
    if (replyEnd === 0) return missingReply(command);
    const [t, end] = [edges[replyBegin]!, edges[replyEnd - 1]!];
    if (hidden(t, end)) return badReply(t, command, 'gcr_code');
    return readReply(edges, [replyBegin, replyEnd], {bitS, command});
  });
}

/** Of leading edges around their grid, ns; undefined where no command reads. */
function jitterOf(whole: readonly Found[]): number | undefined {
  let [squares, read] = [0, 0];
  for (const {frame} of whole)
    if (frame.word !== undefined) {
      squares += frame.jitterS2;
      read++;
    }
  return read ? Math.sqrt(squares / read) * 1e9 : undefined;
}

/** From the end of a command to its reply, s. */
function medianPause(whole: readonly Found[], replies: readonly ReadReply[], bitS: number): number | undefined {
  const pauses = new Float64Array(replies.length);
  let answered = 0;
  for (const {t, command} of replies)
    if (t !== null) pauses[answered++] = t - whole[command]!.frame.t - commandBits * bitS;
  return answered ? median(pauses.subarray(0, answered)) : undefined;
}

/** The begin of a wire tells its kind, where it holds as many edges as this and one command reads. */
const tellingEdges = 20_000;

/** Whether most of the commands have checksums of a bidirectional wire. */
function hasReplies(edges: Float64Array, begin: number, {rate, to}: {rate: BitRate; to: number}): boolean {
  const wordsOf = (some: Float64Array) =>
    burstsOf(some, begin, {rate, to, bidirectional: false})
      .map(({frame}) => frame.word)
      .filter((word) => word !== undefined);
  const first = wordsOf(edges.subarray(0, tellingEdges));
  return isBidirectional(first.length || edges.length <= tellingEdges ? first : wordsOf(edges));
}

/** Every burst: a command, or on a bidirectional wire what came after one where its reply is due. */
function burstsOf(
  edges: Float64Array,
  begin: number,
  {rate, to, bidirectional}: {rate: BitRate; to: number; bidirectional: boolean},
): Found[] {
  const found: Found[] = [];
  for (let i = begin; i < edges.length;) {
    const frame = readBurst(edges, i, rate);
    const {word, next} = frame;
    const last = bidirectional ? found.at(-1) : undefined;
    if (word === undefined && last?.replyEnd === 0 && isDue(edges[i]! - last.frame.t - commandBits * rate.bitS)) {
      const end = endOfReply(edges, i, rate.bitS);
      last.replyBegin = i;
      last.replyEnd = end;
      // From the next edge that leaves the level at rest.
      i = end + ((end - i) % 2);
      continue;
    }
    const isCut = word === undefined && next >= edges.length && endsWithin(edges, to);
    if (!isCut) found.push({frame, replyBegin: 0, replyEnd: 0});
    i = next;
  }
  return found;
}

const isDue = (sinceS: number): boolean => sinceS >= earliestS && sinceS <= latestS;

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

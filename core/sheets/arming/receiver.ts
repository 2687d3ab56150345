/** What Arming says of what comes from the transmitter: channel order, ends and centre, the frames, and what is better planned. */
import {judgeReceiver, wantedDeadBand, type Verdict} from '../../arming/arming-proofs';
import {stickMoves, sticks, type FoundChannels, type NoChannels, type Stick} from '../../arming/channels';
import type {FrameTiming} from '../../arming/frame-rate';
import type {StickEnds} from '../../arming/sweep-watch';
import {receiverKinds, type Receiver} from '../../controller/arming-fields';
import {armingField, type VerdictLine} from './arming';
import type {Choice} from '../choice';
import type {JudgedCraft} from '../craft-question';
export {sticks, type Receiver, type Stick};

/** What moves and sweeps have shown so far. */
export interface ReceiverNow {
  /** Channels of the newest frame, µs; empty before the first. */
  readonly us: readonly number[];
  /** Since the last frame, ms; undefined while none is read. */
  readonly silentMs: number | undefined;
  /** Sticks moved so far; undefined while no moves are looked for. */
  readonly moved: number | undefined;
  readonly order: FoundChannels | NoChannels | undefined;
  readonly isSweeping: boolean;
  /** Empty before the first sweep. */
  readonly ends: readonly StickEnds[];
  readonly timing: FrameTiming | undefined;
}

interface ChannelLine {
  readonly channel: number;
  /** What it is set to be; empty for one that is no stick. */
  readonly stick: string;
  readonly us: number;
}

interface MoveLine {
  readonly stick: Stick;
  readonly text: string;
  readonly state: 'now' | 'seen' | 'found' | 'to come';
  /** Channel that the moves found, and whether it is the one that is set. */
  readonly channel: number | undefined;
  readonly isAsSet: boolean;
}

interface EndsRow {
  readonly stick: Stick;
  readonly low: string;
  readonly centre: string;
  readonly high: string;
  readonly sweeps: number;
  readonly jitter: string;
}

interface ReceiverRemark {
  readonly tag: '' | 'diff' | 'ok';
  readonly word: string;
  readonly text: string;
}

interface ReceiverSheet {
  /** How long no frame came; empty while they do. */
  readonly silence: string;
  readonly channels: readonly ChannelLine[];
  /** Rate and gaps of the frames; empty before enough came. */
  readonly frames: string;
  readonly moves: readonly MoveLine[];
  /** What the moves did not show, or showed the wrong way round. */
  readonly orderFault: {readonly title: string; readonly text: string} | undefined;
  readonly beginMoves: {readonly isOpen: boolean; readonly title: string; readonly isNext: boolean};
  /** What a person is asked now; empty while no move is. */
  readonly asked: string;
  readonly ends: readonly EndsRow[];
  readonly remarks: readonly ReceiverRemark[];
  readonly beginSweeps: {readonly isOpen: boolean; readonly title: string; readonly isNext: boolean};
  readonly verdict: VerdictLine | undefined;
  /** What is better changed here: the order of the channels, and a dead band for the noise. */
  readonly offer: {readonly receiver: Receiver; readonly text: string} | undefined;
  readonly kinds: Choice<Receiver['kind']>[];
  readonly planned: Receiver;
}

/** A transmitter without a frame for so long is silent, ms. */
const silentFromMs = 300;

export function receiverSheet(q: JudgedCraft, now: ReceiverNow): ReceiverSheet {
  const {set, planned} = armingField(q, 'receiver');
  const {us, silentMs = 0, moved, order, isSweeping, ends} = now;
  const isFound = order?.kind === 'found';
  const verdict = receiverVerdict(q, now);
  return {
    silence: silentMs > silentFromMs ? `No frame for ${(silentMs / 1000).toFixed(1)} s` : '',
    channels: us.map((pulse, c) => ({channel: c + 1, us: pulse, stick: sticks.find((s) => set[s] === c + 1) ?? ''})),
    frames: framesText(now.timing),
    moves: sticks.map((stick, i) => moveLine(stick, i, {set, now})),
    orderFault: orderFault(order),
    beginMoves: {
      ...{isOpen: us.length > 0 && !isSweeping, isNext: !isFound},
      title: order ? 'Move them again' : 'Begin the moves',
    },
    asked: moved === undefined || moved >= sticks.length ? '' : `Now move ${stickMoves[sticks[moved]!]}.`,
    ends: ends.map(endsRow),
    remarks: isSweeping ? [] : ends.flatMap(remarksOn),
    beginSweeps: {
      ...{isOpen: us.length > 0 && moved === undefined, isNext: isFound && !ends.length},
      title: ends.length ? 'Sweep again' : 'Begin the sweeps',
    },
    verdict: verdict && {...verdict, title: verdict.holds ? 'As set' : 'Not as it should be'},
    offer: offerOf(planned, now),
    kinds: receiverKinds.map((kind) => ({value: kind, label: kind})),
    planned,
  };
}

/** What moves and sweeps say together; undefined while one of them is missing or said too little. */
export function receiverVerdict(q: JudgedCraft, {order, ends, isSweeping, timing}: ReceiverNow): Verdict | undefined {
  const isWhole = ends.length > 0 && !isSweeping && ends.every((e) => !e.advice.missing);
  if (order?.kind !== 'found' || !isWhole) return undefined;
  const verdict = judgeReceiver(order, ends, armingField(q, 'receiver').set);
  return {...verdict, ...(timing && {frameHz: timing.rateHz})};
}

/** Channel of each stick: as the moves found it, before them as it is set. */
export const stickChannels = (q: JudgedCraft, order: ReceiverNow['order']): Readonly<Record<Stick, number>> =>
  order?.kind === 'found' ? order.channel : armingField(q, 'receiver').set;

function framesText(timing: FrameTiming | undefined): string {
  if (!timing) return '';
  const {rateHz, missing, expected, longestMs} = timing;
  return `${rateHz.toFixed(0)} frames a second; ${missing} of ${expected} did not come, the longest gap was ${longestMs.toFixed(0)} ms.`;
}

function moveLine(stick: Stick, i: number, {set, now}: {readonly set: Receiver; readonly now: ReceiverNow}): MoveLine {
  const {moved, order} = now;
  const channel = order?.kind === 'found' ? order.channel[stick] : undefined;
  const state =
    moved === i ? 'now' : moved !== undefined && moved > i ? 'seen' : channel !== undefined ? 'found' : 'to come';
  return {stick, state, channel, text: `Move ${stickMoves[stick]}.`, isAsSet: channel === set[stick]};
}

function orderFault(order: ReceiverNow['order']): ReceiverSheet['orderFault'] {
  if (order?.kind === 'unclear') return {title: 'Not clear', text: order.why};
  if (!order?.reversed.length) return undefined;
  const {reversed} = order;
  return {
    title: `The wrong way round: ${reversed.join(', ')}`,
    text: `Turn ${reversed.length === 1 ? 'it' : 'them'} over on the transmitter.`,
  };
}

const endsRow = ({stick, low, centre, high, sweeps, noiseUs}: StickEnds): EndsRow => ({
  ...{stick, low: String(low), high: String(high), sweeps},
  // A throttle stays where it is left.
  centre: stick === 'throttle' ? 'none' : String(centre),
  jitter: `± ${noiseUs.toFixed(0)} µs`,
});

function remarksOn({stick, advice}: StickEnds): ReceiverRemark[] {
  const lines = (tag: ReceiverRemark['tag'], word: string, texts: readonly string[]): ReceiverRemark[] =>
    texts.map((text) => ({tag, word, text: `${stick}: ${text}`}));
  return [
    ...lines('', 'not seen', advice.missing ? [advice.missing] : []),
    ...lines('diff', 'on the transmitter', advice.onTransmitter),
    ...lines('ok', 'reached', advice.further),
  ];
}

function offerOf(planned: Receiver, {order, ends, isSweeping}: ReceiverNow): ReceiverSheet['offer'] {
  if (order?.kind !== 'found') return undefined;
  const deadBandUs = Math.max(planned.deadBandUs, isSweeping ? 0 : wantedDeadBand(ends));
  const receiver: Receiver = {...planned, ...order.channel, deadBandUs};
  const isSame = sticks.every((s) => receiver[s] === planned[s]) && deadBandUs === planned.deadBandUs;
  if (isSame) return undefined;
  const {roll, pitch, throttle, yaw} = receiver;
  return {
    receiver,
    text: `Plan roll ${roll}, pitch ${pitch}, throttle ${throttle}, yaw ${yaw}, dead band ${deadBandUs} µs`,
  };
}

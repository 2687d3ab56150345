/** Lost replies and lost steps of a flight: how many, when, and whether the craft twitched with them. */
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import type {MotorSpeeds} from './tracking/motor-speeds';

export interface ReplyLoss {
  /** Motor, or undefined where the log counts all motors together. */
  readonly motor: number | undefined;
  /** Share of samples without a reply, 0…1. */
  readonly share: number;
  /** 95 % interval of the share, by bursts: replies that are lost in one are one event. */
  readonly interval: readonly [number, number];
  /** Bursts of lost replies. */
  readonly events: number;
  /** Power of fast gyro movement within 20 ms behind an event, over its median; undefined with few events. */
  readonly twitch: number | undefined;
}

export interface Desync {
  readonly motor: number;
  /** Since the start of the log, s. */
  readonly atS: number;
  /** Speed left, share of what it was. */
  readonly left: number;
}

/** A gyro is looked at so long behind an event, s. */
const twitchS = 0.02;
/** Events that a twitch needs. */
const minEvents = 5;

/** Replies lost within this time of each other are one burst, s. */
const burstS = 0.02;

export function replyLosses(log: FlightLog, speeds: MotorSpeeds): ReplyLoss[] {
  const apart = Math.max(2, Math.round(burstS * log.sampleRateHz));
  const lossOf = (motor: number | undefined, lost: Lost): ReplyLoss[] => {
    const bursts = burstsOf(lost, apart);
    const replies = bursts.reduce((sum, b) => sum + b.replies, 0);
    if (!(replies > 0)) return [];
    const starts = bursts.map((b) => b.at);
    return [
      {
        ...{motor, share: replies / log.samples, interval: intervalOf(bursts, log.samples)},
        ...{events: bursts.length, twitch: twitchAfter(log, starts)},
      },
    ];
  };
  if (log.replyErrors.length) {
    const single = log.replyErrors.length === 1 && speeds.hz.length > 1;
    return log.replyErrors.flatMap((column, i) => lossOf(single ? undefined : i, lostIn(column)));
  }
  return speeds.bridged.flatMap((bridges, motor) =>
    lossOf(
      motor,
      bridges.flatMap(({start, end}) => Array.from({length: end - start}, (_, i) => ({at: start + i, replies: 1}))),
    ),
  );
}

/** Where replies were lost, and how many at that sample. */
type Lost = readonly {readonly at: number; readonly replies: number}[];

/** A count that grows, flags of 0 and 1, or a share: percent runs up to 100, hundredths of it up to 10,000. */
function lostIn(column: Float32Array): Lost {
  let grows = true;
  let most = 0;
  for (let i = 0; i < column.length; i++) {
    if (column[i]! < (column[i - 1] ?? -Infinity)) grows = false;
    most = Math.max(most, column[i]!);
  }
  const isCount = grows && column.at(-1)! > column[0]!;
  const unit = most <= 1 ? 1 : most <= 100 ? 100 : 10_000;
  const lost: {at: number; replies: number}[] = [];
  for (let i = isCount ? 1 : 0; i < column.length; i++) {
    const replies = isCount ? column[i]! - column[i - 1]! : column[i]! / unit;
    if (replies > 0) lost.push({at: i, replies});
  }
  return lost;
}

function burstsOf(lost: Lost, apart: number): {readonly at: number; readonly replies: number}[] {
  const bursts: {at: number; replies: number}[] = [];
  let last = -Infinity;
  for (const {at, replies} of lost) {
    if (at - last >= apart) bursts.push({at, replies});
    else bursts.at(-1)!.replies += replies;
    last = at;
  }
  return bursts;
}

/**
 * Bursts come by chance, each with its length: the total is a compound Poisson variable. Its interval is that of a Poisson
 * count of as many equal bursts as scatter alike, (Σn)²/Σn² (Garwood 1936, by the cube-root form of Wilson and Hilferty 1931).
 */
function intervalOf(bursts: Lost, samples: number): [number, number] {
  const total = bursts.reduce((sum, b) => sum + b.replies, 0);
  const equal = total ** 2 / bursts.reduce((sum, b) => sum + b.replies ** 2, 0);
  const cube = (n: number, z: number) => n * Math.max(0, 1 - 1 / (9 * n) + z / (3 * Math.sqrt(n))) ** 3;
  const part = total / equal / samples;
  return [part * cube(equal, -1.96), Math.min(1, part * cube(equal + 1, 1.96))];
}

/** Mean square of the second difference (fast movement only) behind the events, over that of the flight. */
function twitchAfter(log: FlightLog, events: readonly number[]): number | undefined {
  if (events.length < minEvents) return undefined;
  const reach = Math.max(3, Math.round(twitchS * log.sampleRateHz));
  const fast = (i: number) =>
    axes.reduce((sum, axis) => {
      const g = log.gyro[axis];
      return sum + (g[i + 1]! - 2 * g[i]! + g[i - 1]!) ** 2;
    }, 0);
  const mean = (from: number, to: number) => {
    let sum = 0;
    for (let i = Math.max(1, from); i < Math.min(log.samples - 1, to); i++) sum += fast(i);
    return sum / Math.max(1, to - from);
  };
  const some = events.filter((_, i) => i % Math.max(1, Math.floor(events.length / 400)) === 0);
  const behind = some.map((at) => mean(at, at + reach)).sort((a, b) => a - b)[some.length >> 1]!;
  const stride = Math.max(reach, Math.floor(log.samples / 800));
  const usual: number[] = [];
  for (let i = 1; i + reach < log.samples; i += stride) usual.push(mean(i, i + reach));
  usual.sort((a, b) => a - b);
  return behind / Math.max(1e-9, usual[usual.length >> 1]!);
}

/** A motor has lost its step where it falls so far below what the others say, within this time, s. */
const lostShare = 0.65;
const fallS = 0.04;
/** And it is told once for so long, s. */
const onceS = 0.3;

/** Sudden falls of one motor that no command asked for. */
export function desyncs(log: FlightLog, {hz}: MotorSpeeds): Desync[] {
  const fall = Math.max(1, Math.round(fallS * log.sampleRateHz));
  const step = Math.max(1, Math.round(0.002 * log.sampleRateHz));
  const found: Desync[] = [];
  hz.forEach((speed, motor) => {
    let last = -Infinity;
    for (const {start, end} of log.stretches)
      for (let i = start + fall; i < end; i += step) {
        const before = speed[i - fall]!;
        if (!(before > 0) || speed[i]! > lostShare * before || i - last < onceS * log.sampleRateHz) continue;
        if (othersFall(hz, motor, {from: i - fall, to: i}) || wasAsked(log, motor, {from: i - 2 * fall, to: i}))
          continue;
        last = i;
        found.push({motor, atS: i / log.sampleRateHz, left: speed[i]! / before});
      }
  });
  return found.sort((a, b) => a.atS - b.atS);
}

interface Span {
  readonly from: number;
  readonly to: number;
}

/** Whether the others fall too, half as much: a cut, not a lost step. */
function othersFall(hz: readonly Float32Array[], motor: number, {from, to}: Span): boolean {
  const shares = hz
    .flatMap((s, m) => (m === motor || !(s[from]! > 0) ? [] : [s[to]! / s[from]!]))
    .sort((a, b) => a - b);
  return shares.length > 0 && shares[shares.length >> 1]! < 1 - (1 - lostShare) / 2;
}

/** Whether its own command, or throttle for all, fell by a third. */
function wasAsked(log: FlightLog, motor: number, {from, to}: Span): boolean {
  const command = log.commands[motor] ?? log.throttle;
  if (!command) return false;
  const [a, b] = [command[Math.max(0, from)]!, command[to]!];
  return b < 0.67 * a;
}

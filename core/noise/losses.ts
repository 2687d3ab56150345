/** Lost replies and lost steps of a flight: how many, when, and whether the craft twitched with them. */
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import type {MotorSpeeds} from './motor-speeds';

export interface ReplyLoss {
  /** Motor, or undefined where the log counts all motors together. */
  readonly motor: number | undefined;
  /** Share of samples without a reply, 0…1; undefined where only a count of errors is logged. */
  readonly share: number | undefined;
  readonly events: number;
  /** Power of fast gyro movement within 20 ms behind an event, over its usual power; undefined with few events. */
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
const fewestEvents = 5;

export function replyLosses(log: FlightLog, speeds: MotorSpeeds): ReplyLoss[] {
  if (log.replyErrors.length) {
    const single = log.replyErrors.length === 1 && speeds.hz.length > 1;
    return log.replyErrors.flatMap((column, i) => {
      const loss = lossIn(column);
      return loss.events.length
        ? [
            {
              motor: single ? undefined : i,
              share: loss.share,
              events: loss.events.length,
              twitch: twitchAfter(log, loss.events),
            },
          ]
        : [];
    });
  }
  return speeds.bridged.flatMap((bridges, motor) => {
    const lost = bridges.reduce((sum, b) => sum + b.end - b.start, 0);
    const starts = bridges.map((b) => b.start);
    return lost ? [{motor, share: lost / log.samples, events: bridges.length, twitch: twitchAfter(log, starts)}] : [];
  });
}

/** A count that grows, or a share (percent, or hundredths of it) that is above nothing. */
function lossIn(column: Float32Array): {share: number | undefined; events: number[]} {
  let grows = true;
  let sum = 0;
  const events: number[] = [];
  for (let i = 1; i < column.length; i++) {
    if (column[i]! < column[i - 1]!) grows = false;
    if (column[i]! > column[i - 1]!) events.push(i);
    sum += column[i]!;
  }
  const last = column.at(-1) ?? 0;
  const first = column[0] ?? 0;
  if (grows && last > first) return {share: (last - first) / column.length, events};
  const mean = sum / Math.max(1, column.length);
  // Flags of 0 and 1 are a share by themselves; percent run up to 100, hundredths of it up to 10,000.
  const most = column.reduce((m, v) => Math.max(m, v), 0);
  return {share: most <= 1 ? mean : most <= 100 ? mean / 100 : mean / 10_000, events};
}

/** Mean square of the second difference (fast movement only) behind the events, over that of the flight. */
function twitchAfter(log: FlightLog, events: readonly number[]): number | undefined {
  if (events.length < fewestEvents) return undefined;
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

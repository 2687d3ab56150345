/**
 * What the 12 bits of a reply mean. An ESC that was told to tells more than speeds: then a period is always written with the
 * highest bit of its mantissa set, and a reply without it, and with an exponent, is something else (extended telemetry of the
 * open trade protocol, from memory).
 */
import {decodePeriod, type ReplyPeriod} from './reply';

export type ReplyMeaning =
  | {readonly kind: 'speed'; readonly period: ReplyPeriod}
  | {readonly kind: 'temperature' | 'voltage' | 'current' | 'stress' | 'state'; readonly value: number}
  | {readonly kind: 'debug'; readonly which: 1 | 2; readonly value: number};

/** Special commands that turn extended replies on and off, and how often they are sent to be taken (from memory). */
export const extendedOn = 13;
export const extendedOff = 14;
export const timesToTake = 6;

/** The 12 bits of an extended reply: the other way of {@link replyMeaning}. A value beyond what its eight bits hold is held there. */
export function extendedBody({kind, value}: {readonly kind: ExtendedKind; readonly value: number}): number {
  const steps = Math.round(kind === 'voltage' ? 4 * value : value);
  return (extendedPrefix[kind] << 8) | Math.max(0, Math.min(0xff, steps));
}

export type ExtendedKind = 'temperature' | 'voltage' | 'current' | 'stress' | 'state';
const extendedPrefix: Readonly<Record<ExtendedKind, number>> = {
  temperature: 0x2,
  voltage: 0x4,
  current: 0x6,
  stress: 0xc,
  state: 0xe,
};

/** Units: 1 °C, 0.25 V, 1 A; stress, state and debug are plain numbers. @param extended whether the ESC was told to. */
export function replyMeaning(body: number, extended: boolean): ReplyMeaning {
  const prefix = body >> 8;
  // A stopped motor is all ones; an odd prefix has the mantissa's highest bit, and so has no exponent's small period.
  if (!extended || prefix % 2 === 1 || prefix === 0) return {kind: 'speed', period: decodePeriod(body)};
  const value = body & 0xff;
  switch (prefix) {
    case 0x2:
      return {kind: 'temperature', value};
    case 0x4:
      return {kind: 'voltage', value: value / 4};
    case 0x6:
      return {kind: 'current', value};
    case 0x8:
      return {kind: 'debug', which: 1, value};
    case 0xa:
      return {kind: 'debug', which: 2, value};
    case 0xc:
      return {kind: 'stress', value};
    default:
      return {kind: 'state', value};
  }
}

/**
 * DShot frames from the flight controller to the ESC (open trade protocol).
 * 16 bits, most significant first: 11-bit value, telemetry request, 4-bit checksum.
 */
import {failure, success, type Result} from '../problem';

/** Values below are commands to the ESC, 0 is stop. */
export const lowestThrottle = 48;
export const highestThrottle = 2047;

interface DshotCommand {
  /** 0 stop, 1…47 commands, 48…2047 throttle in 2000 steps. */
  readonly value: number;
  readonly telemetryRequest: boolean;
}

/** XOR of the three nibbles of 12 bits; inverted when the line is bidirectional. */
export function commandChecksum(twelveBits: number, bidirectional: boolean): number {
  const sum = (twelveBits ^ (twelveBits >> 4) ^ (twelveBits >> 8)) & 0xf;
  return bidirectional ? ~sum & 0xf : sum;
}

/** The 16-bit word of a command. Throws on a value beyond 11 bits: that is the caller's bug. */
export function encodeCommand({value, telemetryRequest}: DshotCommand, bidirectional: boolean): number {
  if (!Number.isInteger(value) || value < 0 || value > highestThrottle)
    throw new RangeError(`DShot value ${value} is not 0…${highestThrottle}`);
  const body = (value << 1) | (telemetryRequest ? 1 : 0);
  return (body << 4) | commandChecksum(body, bidirectional);
}

export function decodeCommand(word: number, bidirectional: boolean): Result<DshotCommand, 'bad-checksum'> {
  const body = (word >> 4) & 0xfff;
  if ((word & 0xf) !== commandChecksum(body, bidirectional)) return failure('bad-checksum');
  return success({value: body >> 1, telemetryRequest: (body & 1) === 1});
}

/** DShot value of a throttle from 0 to 1: 48 is the least throttle, 2047 full. */
export function throttleValue(throttle: number): number {
  if (!(throttle >= 0 && throttle <= 1)) throw new RangeError(`Throttle ${throttle} is not 0…1`);
  return throttle === 0 ? 0 : lowestThrottle + Math.round(throttle * (highestThrottle - lowestThrottle));
}

/** Throttle from 0 to 1 of a DShot value. */
export const valueThrottle = (value: number): number =>
  value < lowestThrottle ? 0 : (value - lowestThrottle) / (highestThrottle - lowestThrottle);

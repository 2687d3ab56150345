/** How long one exchange takes on a motor wire: as it usually is, and at its longest. */
import {bitUs, isDigital, pulseSpanUs, type Protocol} from './protocol';

/** Pause between a command and its reply, µs: what is usual (open trade protocol: "about 30"), and what controllers wait for. */
export const pauseUs = {least: 20, usual: 30, most: 45} as const;
/** A clock may be off from its protocol's rate by this share: receivers take more, their own clocks take part of it (common practice). */
export const maxRateOff = 0.03;

export interface WireTime {
  readonly commandUs: number;
  readonly pauseUs: number;
  readonly replyUs: number;
  readonly totalUs: number;
  /** With the longest pause, and bits as slow as they may be. */
  readonly longestUs: number;
}

/** All outputs run side by side. A pulse takes longest at full throttle, and has no reply. */
export function wireTime(protocol: Protocol, replies: boolean): WireTime {
  const isAnswered = replies && isDigital(protocol);
  const commandUs = isDigital(protocol) ? 16 * bitUs(protocol) : pulseSpanUs[protocol][1];
  const replyUs = isAnswered ? 21 * bitUs(protocol) * 0.8 : 0;
  const [pause, longestPause] = isAnswered ? [pauseUs.usual, pauseUs.most] : [0, 0];
  return {
    ...{commandUs, pauseUs: pause, replyUs, totalUs: commandUs + pause + replyUs},
    longestUs: (commandUs + replyUs) * (1 + maxRateOff) + longestPause,
  };
}

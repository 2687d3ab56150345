/** Fields of a flight controller that decide whether a craft may be armed: shapes and their words. */
import * as z from 'zod';
import {ranges, within} from './ranges';

/** How the board sits in the craft, degrees: turned about yaw, then pitch, then roll, from straight ahead and upright. */
const mountingSchema = z.object({
  roll: within(ranges['mounting.roll']),
  pitch: within(ranges['mounting.pitch']),
  yaw: within(ranges['mounting.yaw']),
});
export type Mounting = z.infer<typeof mountingSchema>;

/** How a receiver talks: a serial line, one with its levels turned over, a train of pulses, one wire a channel. */
export const receiverKinds = ['serial', 'inverted serial', 'pulse train', 'parallel pulses'] as const;
const receiverSchema = z.object({
  kind: z.enum(receiverKinds),
  /** Serial port, counted from 1; 0 for pulses. */
  port: within(ranges['receiver.port']),
  /** Channel of roll, pitch, throttle and yaw, counted from 1. */
  roll: within(ranges.channel),
  pitch: within(ranges.channel),
  throttle: within(ranges.channel),
  yaw: within(ranges.channel),
  /** Around the centre, in which a stick says nothing, µs. */
  deadBandUs: within(ranges['receiver.deadBandUs']),
});
export type Receiver = z.infer<typeof receiverSchema>;

export const switchUses = ['arm', 'tone', 'level', 'flip'] as const;
export type SwitchUse = (typeof switchUses)[number];
export const switchUseName: Readonly<Record<SwitchUse, string>> = {
  arm: 'Arming',
  tone: 'Lost-craft tone',
  level: 'Levelled flying',
  flip: 'Turning an upturned craft over',
};
/** What a channel does between two pulse widths. */
const switchSchema = z.object({
  use: z.enum(switchUses),
  channel: within(ranges.channel),
  fromUs: within(ranges.pulse),
  toUs: within(ranges.pulse),
});
export type Switch = z.infer<typeof switchSchema>;

/** What the craft does without a signal: motors off, on as before, or down slowly. */
export const failSafeActions = ['drop', 'hold', 'land'] as const;
const failSafeSchema = z.object({
  action: z.enum(failSafeActions),
  /** Without a frame for so long it acts, ms. */
  afterMs: within(ranges['failSafe.afterMs']),
});
export type FailSafe = z.infer<typeof failSafeSchema>;

export const armingFields = {
  mounting: mountingSchema.optional(),
  /** Whether the accelerometer is read; for levelled flying and for finding the mounting. */
  accelerometer: z.boolean().optional(),
  receiver: receiverSchema.optional(),
  switches: z.array(switchSchema).max(20).optional(),
  failSafe: failSafeSchema.optional(),
};

/** A stress run as it is kept with its craft. */
import * as z from 'zod';
import {protocolSchema} from '../dshot/protocol';
import {idSchema, textSchema, timeSchema} from '../schemas';
import {replyQualitySchema} from './reply-quality';

export const keptStressSchema = z.object({
  id: idSchema,
  craftId: idSchema,
  at: timeSchema,
  /** How long it was meant to run, s. */
  plannedS: z.number().positive(),
  /** Highest throttle, 0…1. */
  top: z.number().min(0).max(1),
  /** What ended it before its time, in words. */
  endedBy: textSchema.optional(),
  /** What ran on the flight controller. */
  protocol: protocolSchema,
  replies: z.boolean(),
  loopHz: z.number().int().positive(),
  quality: replyQualitySchema,
});
export type KeptStress = z.infer<typeof keptStressSchema>;

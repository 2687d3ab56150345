/** A stress run as it is kept with its craft. */
import * as z from 'zod';
import {protocolShape} from '../dshot/protocol';
import {idShape, textShape, timeShape} from '../shapes';
import {replyQualityShape} from './reply-quality';

export const keptStressShape = z.object({
  id: idShape,
  craftId: idShape,
  at: timeShape,
  /** How long it was meant to run, s. */
  plannedS: z.number().positive(),
  /** Highest throttle, 0…1. */
  top: z.number().min(0).max(1),
  /** What ended it before its time, in words. */
  endedBy: textShape.optional(),
  /** What ran on the flight controller. */
  protocol: protocolShape,
  replies: z.boolean(),
  loopHz: z.number().int().positive(),
  quality: replyQualityShape,
});
export type KeptStress = z.infer<typeof keptStressShape>;

/** What of a flight controller Bidex plans, and what it has been found to hold. */
import * as z from 'zod';
import {protocolShape} from '../dshot/protocol';

/** Fields of the flight controller Bidex plans. Frequencies in Hz. */
export const controllerPlanShape = z.object({
  protocol: protocolShape,
  replies: z.boolean(),
  poles: z.number().int().min(2).max(60),
  loopHz: z.number().int().positive(),
  /** Arm index for each output. */
  arms: z.array(z.number().int().min(0)),
  notchHarmonics: z.array(z.number().int().min(1).max(5)),
  notchQ: z.number().min(1).max(20),
  notchMinHz: z.number().min(20).max(400),
  movingNotches: z.number().int().min(0).max(5),
  gyroLowPassHz: z.number().min(50).max(1000),
  idlePercent: z.number().min(0).max(15),
});
export type ControllerPlan = z.infer<typeof controllerPlanShape>;

/** The configuration as found: the planned fields, and the rate of its gyro, which nobody plans. */
export const controllerConfigShape = controllerPlanShape.extend({gyroHz: z.number()});
export type ControllerConfig = z.infer<typeof controllerConfigShape>;

/** What of a flight controller Bidex plans, and what it has been found to hold. */
import * as z from 'zod';
import {protocolSchema} from '../dshot/protocol';
import {lowPassKinds} from '../filters/section';
import {armingFields} from './arming-fields';
import {ranges, within} from './ranges';

/** Propellers in front that turn in towards the camera, or out and away from it. */
export const propsSchema = z.enum(['in', 'out']);

/** Filters in detail, not in every firmware. Where a plan is silent, what the craft has stays. */
const filterDetails = {
  /** How much of the notch on 1×, 2×, … is mixed in, %; where the list ends, notches are whole. */
  notchWeights: z.array(within(ranges.notchWeight)).max(ranges.harmonic.max).optional(),
  /** A notch fades in over so many Hz above the lowest. */
  notchFadeHz: within(ranges.notchFadeHz).optional(),
  /** First-order smoothing of the motors' speeds, Hz; 0 for none. */
  speedLowPassHz: within(ranges.speedLowPassHz).optional(),
  movingQ: within(ranges.movingQ).optional(),
  movingMinHz: within(ranges.movingMinHz).optional(),
  movingMaxHz: within(ranges.movingMaxHz).optional(),
  gyroLowPass: z.enum(lowPassKinds).optional(),
  /** Cut-off at full throttle, Hz, of a low-pass that follows throttle; 0 for one that stays where it is. */
  gyroLowPassFullHz: within(ranges.gyroLowPassFullHz).optional(),
  dLowPass: z.enum(lowPassKinds).optional(),
  dLowPassHz: within(ranges.dLowPassHz).optional(),
  dLowPassFullHz: within(ranges.dLowPassFullHz).optional(),
};
const processorFields = {
  /** Clock of the processor, MHz; 0 for the one it is rated for. */
  clockMhz: within(ranges.clockMhz).optional(),
  /** Whether ESCs are told to tell more than speeds with their replies: temperature, voltage, current, state. */
  extendedReplies: z.boolean().optional(),
};

/** Fields of the flight controller Bidex plans. Frequencies in Hz. */
export const controllerPlanSchema = z.object({
  protocol: protocolSchema,
  replies: z.boolean(),
  poles: within(ranges.poles),
  loopHz: within(ranges.loopHz),
  /** Arm index for each output. */
  arms: z.array(z.number().int().min(0)),
  notchHarmonics: z.array(within(ranges.harmonic)),
  notchQ: within(ranges.notchQ),
  notchMinHz: within(ranges.notchMinHz),
  movingNotches: within(ranges.movingNotches),
  gyroLowPassHz: within(ranges.gyroLowPassHz),
  idlePercent: within(ranges.idlePercent),
  ...filterDetails,
  ...processorFields,
  ...armingFields,
  /** Which way it was told that the propellers turn: follows the one choice of the craft, see core/craft/whole-plan.ts. */
  props: propsSchema.optional(),
});
export type ControllerPlan = z.infer<typeof controllerPlanSchema>;

/** Fields of every plan that a flight controller's firmware may not have. */
const optional = {notchHarmonics: true, notchQ: true, notchMinHz: true, movingNotches: true} as const;
type DetailField = keyof typeof filterDetails | keyof typeof processorFields | keyof typeof armingFields;
const detailFields = Object.keys({...filterDetails, ...processorFields, ...armingFields}) as readonly DetailField[];
/** Fields that a flight controller's firmware may not have. */
export const optionalFields = [
  ...(Object.keys(optional) as readonly (keyof typeof optional)[]),
  ...detailFields,
] as const;
/** The planned fields as a flight controller holds them: one that its firmware does not have is absent. */
const controllerFieldsSchema = controllerPlanSchema.partial(optional);
export type ControllerFields = z.infer<typeof controllerFieldsSchema>;

/** The configuration as found: its fields, and the rate of its gyro, which nobody plans. */
export const controllerConfigSchema = controllerFieldsSchema.extend({gyroHz: z.number()});
export type ControllerConfig = z.infer<typeof controllerConfigSchema>;

/** A plan with what it is silent about as the craft has it. */
export const planOver = (plan: ControllerPlan, found: ControllerFields | undefined): ControllerPlan => ({
  ...Object.fromEntries(detailFields.flatMap((field) => (found?.[field] === undefined ? [] : [[field, found[field]]]))),
  ...plan,
});

/** What runs: a notch that the firmware does not have is off. */
export const asRunning = (config: ControllerConfig): ControllerPlan & {readonly gyroHz: number} => ({
  notchHarmonics: [],
  notchQ: 1,
  notchMinHz: 20,
  movingNotches: 0,
  ...config,
});

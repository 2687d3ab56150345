/** A craft: what it is made of, and the plan of what its electronics should hold. */
import * as z from 'zod';
import {controllerFirmwareSchema} from '../firmware/controller-releases';
import {plannedSettingsSchema} from '../controller/settings/planned-settings';
import {controllerPlanSchema, propsSchema} from '../controller/plan';
import {firmwarePlanSchema} from '../firmware/plan/firmware-plan';

export const rotationDirection = z.enum(['clockwise', 'counter-clockwise']);
export type RotationDirection = z.infer<typeof rotationDirection>;

/** An arm as seen from above; x to the right and y to the front, in mm from the centre. */
const armSchema = z.object({
  name: z.string(),
  xMm: z.number(),
  yMm: z.number(),
  /** Which way its motor must turn, on a craft that is not steered by its motors; else that follows from the arms. */
  turns: rotationDirection.optional(),
});
export type Arm = z.infer<typeof armSchema>;

const motorSchema = z.object({
  size: z.string(),
  kv: z.number().positive(),
  poles: z.number().int().min(2).max(60).multipleOf(2),
  /** Somebody counted the magnets; else the count is a preset's or a guess. */
  counted: z.boolean().optional(),
  resistanceOhm: z.number().positive(),
  inductanceH: z.number().positive(),
  /** Values of the winding that nobody measured: they follow size and KV. */
  estimated: z.array(z.enum(['resistanceOhm', 'inductanceH'])).optional(),
  /** Highest current of its label, A. */
  amps: z.number().positive().optional(),
  /** What a run on the bench told of the motors of this craft, the middle of them: kg·m² of the bell, N·m, epoch ms. */
  measured: z
    .object({inertia: z.number().positive(), friction: z.number().positive().optional(), at: z.number()})
    .optional(),
});

/** One value for all motors, one per motor, or whatever calibration left in each ESC. */
const plannedValue = z.discriminatedUnion('kind', [
  z.object({kind: z.literal('same'), value: z.number()}),
  z.object({kind: z.literal('per motor'), values: z.array(z.number())}),
  z.object({kind: z.literal('calibrated')}),
]);
export type PlannedValue = z.infer<typeof plannedValue>;

export const planSchema = z.object({
  firmware: firmwarePlanSchema,
  /** Motors that have another firmware on purpose. */
  ownFirmware: z.array(z.object({motor: z.number().int().min(0).max(7), firmware: firmwarePlanSchema})).optional(),
  parameters: z.record(z.string(), plannedValue),
  controller: controllerPlanSchema,
  /** Firmware of the flight controller; what it runs stays where left out. */
  controllerFirmware: controllerFirmwareSchema.optional(),
  /** Other settings of the flight controller; those that are not among them stay as they are. */
  settings: plannedSettingsSchema.optional(),
  /** Start-up melodies as RTTTL text: one for all, or a voice for each motor. */
  melodies: z
    .discriminatedUnion('kind', [
      z.object({kind: z.literal('same'), text: z.string().max(2000)}),
      z.object({kind: z.literal('per motor'), texts: z.array(z.string().max(2000)).max(8)}),
    ])
    .optional(),
});
export type Plan = z.infer<typeof planSchema>;

export const craftSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(40),
  kind: z.string().max(60),
  props: propsSchema,
  propeller: z.object({
    diameterInch: z.number().positive(),
    pitchInch: z.number().positive(),
    blades: z.number().int().min(2).max(8),
  }),
  motor: motorSchema,
  battery: z.object({
    cells: z.number().int().min(1).max(14),
    capacityMah: z.number().positive(),
    /** Internal resistance of the whole pack; estimated where nobody measured it. */
    resistanceOhm: z.number().positive().optional(),
    /** Highest current of its label, A: the C number times the capacity in Ah. */
    amps: z.number().positive().optional(),
  }),
  weightG: z.number().positive(),
  escBoard: z.string(),
  controllerBoard: z.string(),
  /** Who named the board of a flight controller whose loader does not tell it, and when, epoch ms. */
  controllerClaim: z.object({board: z.string().max(60), by: z.string().max(80), at: z.number()}).optional(),
  arms: z.array(armSchema).min(1).max(8),
  /** A helicopter: its first motor turns the main rotor, its second the tail rotor. */
  helicopter: z.boolean().optional(),
  /** A single ESC on the bench: no craft around it, no flight controller, nothing that flies. */
  loose: z.boolean().optional(),
  /** Parts that the starting plan guessed, and that nobody has changed or confirmed since. */
  guessed: z.array(z.enum(['airframe', 'motors', 'battery', 'electronics', 'propellers'])).optional(),
  /** Put away: kept with everything, not listed among the flying ones. */
  archived: z.boolean().optional(),
  plan: planSchema,
});
export type Craft = z.infer<typeof craftSchema>;
export type GuessedPart = NonNullable<Craft['guessed']>[number];

/** Whether the speeds of its motors steer a craft: one or two motors, and a helicopter's, need servos beside them. */
export const steersByMotors = ({arms, helicopter}: Pick<Craft, 'arms' | 'helicopter'>): boolean =>
  arms.length > 2 && !helicopter;

/**
 * The sense each arm must turn. Neighbours around the craft alternate; with props out, the front right motor turns
 * clockwise seen from above (its leading blade moves away from the camera in front). Where servos steer, it is as was said.
 */
export function wantedDirections(craft: Pick<Craft, 'arms' | 'props'>): RotationDirection[] {
  const around = craft.arms
    .map((arm, index) => ({index, angle: (Math.atan2(arm.xMm, arm.yMm) + 2 * Math.PI) % (2 * Math.PI)}))
    .sort((a, b) => a.angle - b.angle);
  const directions: RotationDirection[] = craft.arms.map(() => 'clockwise');
  around.forEach(({index}, place) => {
    const even = place % 2 === 0;
    directions[index] =
      craft.arms[index]!.turns ?? (even === (craft.props === 'out') ? 'clockwise' : 'counter-clockwise');
  });
  return directions;
}

/** The melody planned for one motor, as RTTTL text; undefined where none is. */
export function plannedMelody({melodies}: Pick<Plan, 'melodies'>, motorIndex: number): string | undefined {
  return melodies?.kind === 'per motor' ? melodies.texts[motorIndex] : melodies?.text;
}

/** The planned value of one motor; undefined where calibration decides or nothing is planned. */
export function plannedFor(planned: PlannedValue | undefined, motorIndex: number): number | undefined {
  if (!planned || planned.kind === 'calibrated') return undefined;
  return planned.kind === 'same' ? planned.value : planned.values[motorIndex];
}

/** Edits of what a craft is made of: each gives the craft after it; none is taken over before it was checked. */
import {readStatorSize} from './estimates';
import {withEstimates} from './model';
import {leadOutput} from '../craft/change-arms';
import {craftSchema, type Arm, type Craft, type RotationDirection} from '../craft/craft';

/** A value of the winding that can follow size and KV. */
export type WindingKey = NonNullable<Craft['motor']['estimated']>[number];
export type CraftEdit = (craft: Craft) => Craft;

/** The edited craft, or why it is none. */
type CheckedEdit = {readonly ok: true; readonly craft: Craft} | {readonly ok: false; readonly fault: string};

export function checkedEdit(craft: Craft, edit: CraftEdit): CheckedEdit {
  const checked = craftSchema.safeParse(edit(craft));
  if (checked.success) return {ok: true, craft: checked.data};
  const issue = checked.error.issues[0]!;
  return {ok: false, fault: `${issue.path.join(' ')}: ${issue.message}. Nothing was taken over.`};
}

/** Farthest that a motor may be from the centre along an axis, mm. */
const maxArmMm = 2000;

/** An arm moved to a typed place, mm; undefined where that is none. */
export const armMoved = (index: number, axis: 'xMm' | 'yMm', mm: number): CraftEdit | undefined =>
  Number.isFinite(mm) && Math.abs(mm) <= maxArmMm ? withArm(index, {[axis]: Math.round(mm)}) : undefined;

export const armFault = ({arms}: Craft, index: number): string =>
  `${arms[index]!.name}: a position is a number of mm from −${maxArmMm} to ${maxArmMm}. Nothing was taken over.`;

export const withArm =
  (index: number, to: Partial<Arm>): CraftEdit =>
  (craft) => ({...craft, arms: craft.arms.map((arm, i) => (i === index ? {...arm, ...to} : arm))});

/** Which way the motor of an arm must turn, where servos steer. */
export const withTurns = (arm: number, turns: RotationDirection): CraftEdit => withArm(arm, {turns});

/** A helicopter's ESCs need firmware of their own; which one follows from the motor. */
export const withHelicopter =
  (helicopter: boolean): CraftEdit =>
  (craft) => ({...craft, helicopter: helicopter || undefined});

/** The output leads to that arm; the one that led there takes what is left. */
export const withOutput =
  (output: number, arm: number): CraftEdit =>
  (craft) => ({
    ...craft,
    plan: {
      ...craft.plan,
      controller: {...craft.plan.controller, arms: leadOutput(craft.plan.controller.arms, output, arm)},
    },
  });

/** Values of the winding that are estimated follow size and KV; what was measured was measured on a motor of its size. */
export const withMotor =
  (motor: Partial<Craft['motor']>): CraftEdit =>
  (craft) => ({
    ...craft,
    motor: withEstimates({...craft.motor, ...motor, ...(motor.size !== undefined && {measured: undefined})}),
  });

/** A value of the winding that was measured; it no longer follows. */
export const withWinding =
  (key: WindingKey, value: number): CraftEdit =>
  (craft) =>
    withMotor({[key]: value, estimated: craft.motor.estimated?.filter((k) => k !== key)})(craft);

/** A value of the winding follows size and KV again. */
export const withEstimated =
  (key: WindingKey): CraftEdit =>
  (craft) =>
    withMotor({estimated: [...(craft.motor.estimated ?? []), key]})(craft);

/** Another count than before is a new one: whether somebody counted it is asked again. */
export const withPoles =
  (poles: number): CraftEdit =>
  (craft) => ({
    ...craft,
    motor: {...craft.motor, poles, counted: undefined},
    plan: {...craft.plan, controller: {...craft.plan.controller, poles}},
  });

export const withCounted =
  (counted: boolean): CraftEdit =>
  (craft) => ({...craft, motor: {...craft.motor, counted: counted || undefined}});

export const withBattery =
  (battery: Partial<Craft['battery']>): CraftEdit =>
  (craft) => ({...craft, battery: {...craft.battery, ...battery}});

/** @param milliohm undefined for an estimate from cells and capacity. */
export const withPackResistance = (milliohm: number | undefined): CraftEdit =>
  withBattery({resistanceOhm: milliohm === undefined ? undefined : milliohm / 1000});

export const withPropeller =
  (propeller: Partial<Craft['propeller']>): CraftEdit =>
  (craft) => ({...craft, propeller: {...craft.propeller, ...propeller}});

/** Whether the winding can be estimated: its stator size reads. */
export const canEstimate = ({motor}: Craft): boolean => readStatorSize(motor.size) !== undefined;

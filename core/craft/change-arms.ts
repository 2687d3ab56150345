/** Gives a craft other arms and keeps its plan whole: values per motor and the map of outputs follow. */
import type {Arm, Craft, Plan, PlannedValue} from './craft';
import {withOwnFirmware} from './motor-firmware';
import {fitToMotors} from './plan-values';

/**
 * New arms keep what their output had planned; arms beyond the old ones take what the last one had. Outputs whose arm is
 * gone get the arms that are left over, in order.
 */
export function changeArms(craft: Craft, arms: readonly Arm[]): Craft {
  const {plan} = craft;
  const parameters: Record<string, PlannedValue> = {};
  for (const [key, planned] of Object.entries(plan.parameters)) {
    // Which way the motors on new arms turn is not known until they were seen.
    const isUnknown = key === 'rotation' && planned.kind === 'per motor' && arms.length > craft.arms.length;
    if (!isUnknown) parameters[key] = fitToMotors(planned, arms.length);
  }
  const {helicopter, ...rest} = craft;
  return {
    ...rest,
    ...(helicopter && arms.length <= 2 && {helicopter}),
    arms: [...arms],
    plan: {
      ...withoutMotorsBeyond(plan, arms.length),
      parameters,
      controller: {...plan.controller, arms: outputMap(plan.controller.arms, arms.length)},
    },
  };
}

/** Firmware of its own goes with a motor that goes. */
const withoutMotorsBeyond = (plan: Plan, motors: number): Plan =>
  (plan.ownFirmware ?? [])
    .filter(({motor}) => motor >= motors)
    .reduce((rest, {motor}) => withOwnFirmware(rest, motor, undefined), plan);

function outputMap(before: readonly number[], count: number): number[] {
  const kept = Array.from({length: count}, (_, output) => before[output]).map((arm) =>
    arm !== undefined && arm < count ? arm : undefined,
  );
  const free = Array.from({length: count}, (_, arm) => arm).filter((arm) => !kept.includes(arm));
  return kept.map((arm) => arm ?? free.shift()!);
}

/** Leads an output to an arm; the output that had the arm before takes the other one, so that the map stays one to one. */
export function leadOutput(arms: readonly number[], output: number, arm: number): number[] {
  const before = arms[output];
  return arms.map((a, o) => (o === output ? arm : a === arm && before !== undefined ? before : a));
}

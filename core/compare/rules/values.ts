/** Rules about values that must go together. */
import {
  definitionOf,
  formatValue,
  parameterDefinitions,
  refusalOf,
  type ParameterKey,
} from '../../settings/definitions';
import {isDigital} from '../../dshot/protocol';
import {bothWays, pwmFollows} from '../../settings/parameters/special-values';
import {mayNeverArm, neverArmsText} from '../../settings/low-end';
import {heldBy, onMotors, type PlannedEsc, type Rule} from './rule';

const show = (esc: PlannedEsc, key: ParameterKey) => formatValue(definitionOf(key), heldBy(esc, key));

/** The first value of an ESC that its firmware cannot take, in words. */
function refusedValue({settings, layout}: PlannedEsc): string | undefined {
  for (const definition of parameterDefinitions) {
    const value = settings[definition.key];
    const refusal = value === undefined ? undefined : refusalOf(definition, value, layout);
    if (refusal) return refusal;
  }
  return undefined;
}

/** Least way from the centre to either end, µs: below it the throttle is too coarse to steer with. Our own figure. */
const minHalf = 300;

export const valueRules: readonly Rule[] = [
  {
    id: 'value-allowed',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a value that this firmware takes, or plan another firmware.',
    check: (q) =>
      onMotors(
        q,
        (e) => refusedValue(e) !== undefined,
        (e) => refusedValue(e)!,
      ),
  },
  {
    id: 'start-order',
    severity: 'refuse',
    keys: ['startLow', 'startHigh'],
    remedy: 'Plan the highest start-up power above the lowest, by 50 µs or more.',
    check: (q) =>
      onMotors(
        q,
        // Firmware without a lowest one starts from its own.
        (e) => e.settings.startLow !== undefined && heldBy(e, 'startLow') >= heldBy(e, 'startHigh'),
        (e) =>
          `Lowest start-up power ${show(e, 'startLow')} is not under the highest, ${show(e, 'startHigh')}: the motor would start at full start-up power or not at all.`,
      ),
  },
  {
    id: 'follow-order',
    severity: 'refuse',
    keys: ['pwm', 'pwmLow', 'pwmHigh'],
    remedy: 'Plan the highest PWM frequency above the lowest.',
    check: (q) =>
      onMotors(
        q,
        (e) => e.settings.pwm === pwmFollows && heldBy(e, 'pwmLow') >= heldBy(e, 'pwmHigh'),
        (e) => `PWM follows from ${show(e, 'pwmLow')} to ${show(e, 'pwmHigh')}, which is not upwards.`,
      ),
  },
  {
    id: 'throttle-span',
    severity: 'warn',
    keys: ['throttleMin', 'throttleMax'],
    remedy: 'Calibrate the end points again, or plan them 900 µs apart or more.',
    check: (q) =>
      isDigital(q.craft.plan.controller.protocol)
        ? undefined
        : onMotors(
            q,
            (e) => heldBy(e, 'throttleMax') - heldBy(e, 'throttleMin') < 800,
            (e) =>
              `The throttle spans only ${heldBy(e, 'throttleMax') - heldBy(e, 'throttleMin')} µs: the controller's steps become coarse and a low idle may stop a motor.`,
          ),
  },
  {
    id: 'low-end-arms',
    severity: 'warn',
    keys: ['throttleMin'],
    remedy: 'Calibrate the end points, or plan the throttle minimum 20 µs higher.',
    check: (q) =>
      isDigital(q.craft.plan.controller.protocol)
        ? undefined
        : onMotors(
            q,
            (e) => e.settings.throttleMin !== undefined && mayNeverArm(heldBy(e, 'throttleMin')),
            (e) => neverArmsText(heldBy(e, 'throttleMin')),
          ),
  },
  {
    id: 'centre-between',
    severity: 'refuse',
    keys: ['throttleMin', 'throttleCentre', 'throttleMax'],
    remedy: `Plan the centre at least ${minHalf} µs from both ends.`,
    check: (q) =>
      onMotors(
        q,
        (e) =>
          heldBy(e, 'rotation') === bothWays &&
          Math.min(
            heldBy(e, 'throttleCentre') - heldBy(e, 'throttleMin'),
            heldBy(e, 'throttleMax') - heldBy(e, 'throttleCentre'),
          ) < minHalf,
        (e) => `Throttle centre ${show(e, 'throttleCentre')} leaves one way less than ${minHalf} µs.`,
      ),
  },
  {
    id: 'both-ways-idle',
    severity: 'refuse',
    keys: ['rotation'],
    remedy: 'Plan normal or reversed; or, for a craft without propellers, an idle of 0 %.',
    check: (q) => {
      const {idlePercent} = q.craft.plan.controller;
      return idlePercent > 0
        ? onMotors(
            q,
            (e) => heldBy(e, 'rotation') === bothWays,
            () =>
              `An ESC that turns both ways stops in the middle of the throttle, and the flight controller idles at ${idlePercent} %: the motor would turn backwards as soon as the craft is armed.`,
          )
        : undefined;
    },
  },
  {
    id: 'quiet-micro',
    severity: 'warn',
    keys: ['toneLoudness'],
    remedy: 'Plan a tone loudness of 85 or more.',
    check: (q) =>
      q.craft.propeller.diameterInch >= 3
        ? undefined
        : onMotors(
            q,
            (e) => heldBy(e, 'toneLoudness') < 85,
            (e) => `Tone loudness ${show(e, 'toneLoudness')} is too quiet on motors this small (common practice).`,
          ),
  },
];

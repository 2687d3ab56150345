/** Rules that follow from the physics of the craft. */
import {beatsWithPwm, commutationRange, fullThrottle} from '../../motor/full-throttle';
import {plannedMargin} from '../../motor/effects/desync';
import {driveOf, hoverPwmHz, type EffectQuestion} from '../../motor/effects/effect';
import {fullThrottleHeat} from '../../motor/effects/pwm';
import {pwmFollows} from '../../settings/parameters/special-values';
import {valueIn} from '../../settings/page';
import {hoverPoint, lostDuty} from '../../motor/hover';
import {canModel} from '../../motor/model';
import {startMargin} from '../../motor/starting';
import {heldBy, onMotors, physicsOf, type PlannedEsc, type Rule, type RuleQuestion} from './rule';

/** A breach on every motor whose physics `breaks`; nothing is said of ESCs whose board is not known. */
const onPhysics = (
  q: RuleQuestion,
  breaks: (physics: EffectQuestion, esc: PlannedEsc) => boolean,
  meaning: (physics: EffectQuestion, esc: PlannedEsc) => string,
) => {
  const isBroken = (e: PlannedEsc) => {
    const physics = physicsOf(q.craft, e);
    return physics !== undefined && breaks(physics, e);
  };
  return onMotors(q, isBroken, (e) => meaning(physicsOf(q.craft, e)!, e));
};

const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
const kHz = (hz: number) => `${Math.round(hz / 1000)} kHz`;
const turning = (p: EffectQuestion) => commutationRange(p.craft, driveOf(p));

/** Torque of the highest start-up power over what a start takes. */
const highestStart = ({craft}: EffectQuestion, esc: PlannedEsc) =>
  startMargin({craft, powerUs: heldBy(esc, 'startHigh'), limitAmps: heldBy(esc, 'currentLimit')}).value;

export const physicsRules: readonly Rule[] = [
  {
    id: 'dead-time',
    severity: 'refuse',
    keys: ['pwm'],
    remedy: 'Plan a lower PWM frequency.',
    check: (q) =>
      onPhysics(
        q,
        (p) => lostDuty(driveOf(p)) > 0.15,
        (p) =>
          `${kHz(hoverPwmHz(p))} with a dead time of ${Math.round(p.deadTimeS * 1e9)} ns takes ${percent(lostDuty(driveOf(p)))} of the throttle: motors stop at low throttle.`,
      ),
  },
  {
    id: 'idle-over-dead-time',
    severity: 'warn',
    keys: ['pwm'],
    remedy: 'Raise the idle throttle on the Spin station, or plan a lower PWM frequency.',
    check: (q) => {
      const idle = q.craft.plan.controller.idlePercent / 100;
      return onPhysics(
        q,
        (p) => idle > 0 && idle - lostDuty(driveOf(p)) < 0.01,
        (p) =>
          `At ${kHz(hoverPwmHz(p))} dead time takes ${percent(lostDuty(driveOf(p)))} of the throttle and the idle is ${percent(idle)}: what is left may not keep a motor turning.`,
      );
    },
  },
  {
    id: 'pwm-commutation',
    severity: 'warn',
    keys: ['pwm'],
    remedy: 'Plan a higher PWM frequency.',
    check: (q) =>
      onPhysics(
        q,
        (p) => beatsWithPwm(hoverPwmHz(p), ...turning(p)),
        (p) =>
          `This craft commutates ${kHz(turning(p)[0])} to ${kHz(turning(p)[1])} times a second between hover and full throttle, close to the PWM of ${kHz(hoverPwmHz(p))}: the torque pulses where they meet.`,
      ),
  },
  {
    id: 'follow-heat',
    severity: 'warn',
    keys: ['pwm', 'pwmHigh'],
    remedy:
      'Plan a lower highest frequency, or a fixed one. Fly half a minute at full throttle at most, land, and lay a hand on the board.',
    check: (q) =>
      onPhysics(
        q,
        (p) => p.builtPwmKhz === undefined && valueIn(p.settings, 'pwm') === pwmFollows,
        (p) => {
          const [followed, fixed] = [fullThrottleHeat(p, valueIn(p.settings, 'pwmHigh')), fullThrottleHeat(p, 24)];
          return `At full throttle PWM that follows the speed comes up to ${valueIn(p.settings, 'pwmHigh')} kHz: predicted, each bridge then makes ${followed.toFixed(1)} W of heat, ${(followed / fixed).toFixed(1)} × that of 24 kHz. Boards have burned with it (common practice).`;
        },
      ),
  },
  {
    id: 'desync-margin',
    severity: 'warn',
    keys: ['timing', 'demag', 'currentLimit'],
    remedy: 'Plan more timing advance, higher demag compensation, or a lower current limit.',
    check: (q) =>
      onPhysics(
        q,
        (p) => plannedMargin(p) < 0,
        (p) =>
          `On a hard throttle step a winding is free ${Math.abs(plannedMargin(p)).toFixed(0)} electrical degrees too late: expect desync.`,
      ),
  },
  {
    id: 'start-torque',
    severity: 'warn',
    keys: ['startHigh'],
    remedy: 'Raise both start-up powers by 25 to 50 µs.',
    check: (q) =>
      onPhysics(
        q,
        (p, esc) => highestStart(p, esc) < 1,
        (p, esc) =>
          `The highest start-up power gives ${highestStart(p, esc).toFixed(1)} × the torque that starting takes: the motor stutters.`,
      ),
  },
  {
    id: 'current-to-hover',
    severity: 'refuse',
    keys: ['currentLimit'],
    remedy: 'Plan a higher current limit.',
    check: (q) =>
      onPhysics(
        q,
        (p, esc) =>
          esc.settings.currentLimit !== undefined && heldBy(esc, 'currentLimit') < hoverPoint(p.craft, driveOf(p)).amps,
        (p) =>
          `The craft needs ${hoverPoint(p.craft, driveOf(p)).amps.toFixed(1)} A per motor to hover: it would fall.`,
      ),
  },
  {
    id: 'reach-hover',
    severity: 'warn',
    keys: [],
    remedy: 'Check weight, propellers, KV and cells on the Craft station.',
    check: (q) =>
      onPhysics(
        q,
        (p) => !hoverPoint(p.craft, driveOf(p)).reachable,
        (p) =>
          `Full throttle cannot lift ${p.craft.weightG} g with these motors, propellers and cells: the craft stays on the ground.`,
      ),
  },
  {
    id: 'low-voltage-sag',
    severity: 'warn',
    keys: ['lowVoltageLimit'],
    remedy: 'Plan a lower limit, or a pack with less internal resistance.',
    check: (q) =>
      onPhysics(
        q,
        (p, esc) => heldBy(esc, 'lowVoltageLimit') > fullThrottle(p.craft, driveOf(p)).cellVolts,
        (p, esc) =>
          `At full throttle a half-flown pack sags to ${fullThrottle(p.craft, driveOf(p)).cellVolts.toFixed(2)} V per cell, below the limit of ${heldBy(esc, 'lowVoltageLimit').toFixed(1)} V: power goes in the middle of a punch.`,
      ),
  },
  {
    id: 'stator-size',
    severity: 'warn',
    keys: [],
    remedy: 'Enter the stator size as on the motor, like 2207 or 2306.5, on the Craft station.',
    check: ({craft}) =>
      canModel(craft)
        ? undefined
        : {
            meaning: `The stator size "${craft.motor.size}" does not read, so nothing here was checked against the physics of these motors.`,
          },
  },
];

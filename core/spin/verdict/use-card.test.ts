import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {coastDownS} from '../../motor/coast';
import {motorOf} from '../../motor/model';
import {estimateOf, noEstimate, type Answer} from '../../motion/answer';
import type {MotorReport} from '../../motion/report';
import {motorFromCard} from './use-card';

const report = (kv: Answer, inertia: number): MotorReport => ({
  startsAtPercent: noEstimate('-'),
  spoolUpS: noEstimate('-'),
  coastDownS: noEstimate('-'),
  kv,
  resistanceOhm: estimateOf(0.06, 0.004),
  inertia: estimateOf(inertia, 1e-7),
  friction: estimateOf(6e-4, 1e-4),
  drag: noEstimate('-'),
  delayS: 0,
  stutters: [],
  desyncs: [],
});

describe('a motor card as the motor of the craft', () => {
  const motor = motorFromCard(
    juniper.motor,
    [report(estimateOf(1740, 7), 2e-6), report(estimateOf(1752, 7), 2.2e-6), report(estimateOf(1760, 7), 3e-6)],
    5,
  )!;
  it('takes the middle of the motors, so that an odd one does not count', () =>
    expect(motor).toMatchObject({kv: 1752, resistanceOhm: 0.06, measured: {inertia: 2.2e-6, friction: 6e-4, at: 5}}));
  it('stands in the physics: inertia and friction are the measured ones, coast-downs follow', () => {
    const craft = {...juniper, motor};
    expect(motorOf(craft).friction).toBe(6e-4);
    expect(motorOf(craft).inertia - motorOf({...craft, motor: {...motor, measured: undefined}}).inertia).not.toBe(0);
    const ask = {
      drive: {pwmHz: 48e3, deadTimeS: 45e-9},
      limitAmps: 45,
      activeBraking: false,
      strength: 60,
      propeller: false,
    };
    const heavier = {...craft, motor: {...motor, measured: {...motor.measured!, inertia: 4.4e-6}}};
    expect(coastDownS({...ask, craft: heavier}) / coastDownS({...ask, craft})).toBeCloseTo(2, 1);
  });
  it('is refused while most motors did not tell', () =>
    expect(
      motorFromCard(
        juniper.motor,
        [report(estimateOf(1740, 7), 2e-6), report(noEstimate('x'), 2e-6), report(noEstimate('x'), 2e-6)],
        5,
      ),
    ).toBeUndefined());
});

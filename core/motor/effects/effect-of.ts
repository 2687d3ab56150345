/** The physics behind each parameter, where we have some. */
import {definitionOf, type ParameterKey} from '../../settings/definitions';
import {activeBrakingEffect, brakeStrengthEffect} from './braking';
import {demagEffect, timingEffect} from './desync';
import type {Effect, EffectQuestion} from './effect';
import {currentLimitEffect, lowVoltageEffect, startEffect} from './power';
import {pwmEffect} from './pwm';

const start = (key: 'startLow' | 'startHigh') => (question: EffectQuestion) => {
  const {min, max, scale} = definitionOf(key);
  return startEffect(question, scale?.from ?? min, scale?.to ?? max);
};

const effects: Readonly<Partial<Record<ParameterKey, (question: EffectQuestion) => Effect>>> = {
  timing: timingEffect,
  pwm: pwmEffect,
  demag: demagEffect,
  activeBraking: activeBrakingEffect,
  brakeStrength: brakeStrengthEffect,
  startLow: start('startLow'),
  startHigh: start('startHigh'),
  currentLimit: currentLimitEffect,
  lowVoltageLimit: lowVoltageEffect,
};

/** What a parameter does to a craft; undefined where no physics says anything about it. */
export const effectOf = (key: ParameterKey, question: EffectQuestion): Effect | undefined => effects[key]?.(question);

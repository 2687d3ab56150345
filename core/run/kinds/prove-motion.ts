/**
 * Measures again how every motor moves, where that was measured before and this order takes it away: the person who
 * holds for the replies holds on.
 */
import * as z from 'zod';
import {stepText} from '../../order/step-schemas';
import {cardSeconds} from '../../spin/script/script-choices';
import type {MeasuredBefore} from '../../proof/standing';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    'prove-motion': {readonly outputs: number};
  }
}

export const proveMotion: RunnableKind<'prove-motion'> = {
  kind: 'prove-motion',
  shape: z.object({...stepText, kind: z.literal('prove-motion'), outputs: z.number().int().min(1).max(16)}),
  plan({craft, found, leftOut, leaveSteps, measured}) {
    if (found.road !== 'controller' || leftOut || !craft.plan.controller.replies || !before(measured)) return [];
    if (leaveSteps.includes('write-firmware') || leaveSteps.includes('prove-motion')) return [];
    const seconds = Math.ceil(cardSeconds(craft.arms.length, craft.plan.controller.idlePercent / 100));
    return [
      {
        id: 'prove-motion',
        kind: 'prove-motion',
        title: 'Prove how the motors move',
        note: `you hold on: each motor alone, then steps up to 30 %, ${seconds} s`,
        outputs: craft.arms.length,
        estimateMs: (seconds + 2) * 1000,
      },
    ];
  },
  onlyWith: ({measured}) => (before(measured)?.isLost ? undefined : ['firmware', 'settings']),
  inverse: () => [],
  touches: () => [],
  follows: ['loader', 'firmware', 'settings'],
  leavable: 'Proving how the motors move',
  forPerson: true,
  needsEveryEsc: true,
};

const before = (measured: readonly MeasuredBefore[]): MeasuredBefore | undefined =>
  measured.find(({kind}) => kind === 'motion');

/**
 * Puts everything else that a flight controller held back on its new firmware, by what that says of itself: fields that
 * the plan has are set by a step of their own. What it holds afterwards is read again, and each setting is accounted for.
 */
import * as z from 'zod';
import {otherEntries} from '../../controller/settings/field-entries';
import {stepText} from '../../order/step-schemas';
import {counted} from '../../words/counted';
import type {RunnableKind} from '../steps/runnable-kind';

declare module '../../order/steps' {
  interface StepShapes {
    'carry-settings': {readonly count: number};
  }
}

export const carrySettingsOver: RunnableKind<'carry-settings'> = {
  kind: 'carry-settings',
  shape: z.object({...stepText, kind: z.literal('carry-settings'), count: z.number().int().min(1).max(2000)}),
  plan({found, controllerWork, leaveSteps}) {
    const {settings, identity} = found.controller ?? {};
    if (!settings || !identity || !controllerWork || leaveSteps.includes('carry-settings')) return [];
    const count = otherEntries(settings, identity.version).length;
    if (!count) return [];
    return [
      {
        ...{id: 'carry-settings', kind: 'carry-settings', count},
        title: `Put the other ${counted(count, 'setting')} back`,
        note: 'what moved, was renamed or has other units is brought along; all are read again',
        estimateMs: 2_000,
      },
    ];
  },
  // The firmware that they were carried to stays: a roll-back has nothing to put back.
  inverse: () => [],
  touches: () => [{of: 'controller', at: 'controller'}],
  follows: ['loader'],
  leavable: 'Putting the other settings back',
};

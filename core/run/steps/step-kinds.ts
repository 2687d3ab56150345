/** Every kind of step, in the order in which a work order takes them. A new kind is one file and one line here. */
import type {StepMeaning, Touch} from '../../order/step-kind';
import type {ImageToWrite, Step, StepKind} from '../../order/steps';
import {carrySettingsOver} from '../kinds/carry-settings';
import {cycleBattery} from '../kinds/cycle-battery';
import {proveMotion} from '../kinds/prove-motion';
import {provePages} from '../kinds/prove-pages';
import {proveReplies} from '../kinds/prove-replies';
import {proveSettings} from '../kinds/prove-settings';
import {restoreSettings} from '../kinds/restore-settings';
import {setOtherSettings} from '../kinds/set-settings';
import {setController} from '../kinds/set-controller';
import {setParameters} from '../kinds/set-parameters';
import {snapshot} from '../kinds/snapshot';
import {visit} from '../kinds/visit';
import {writeFirmware} from '../kinds/write-firmware';
import {writeController} from '../kinds/write-controller';
import type {RunnableKind} from './runnable-kind';

const all: readonly RunnableKind[] = [
  snapshot,
  writeController,
  writeFirmware,
  visit,
  cycleBattery,
  setParameters,
  restoreSettings,
  setController,
  carrySettingsOver,
  setOtherSettings,
  provePages,
  proveSettings,
  proveReplies,
  proveMotion,
];
const byKind: ReadonlyMap<StepKind, RunnableKind> = new Map(all.map((kind) => [kind.kind, kind]));

export const stepKinds = {all, of: (step: Pick<Step, 'kind'>): RunnableKind => byKind.get(step.kind)!};

/** Whether a step turns the motors while a person holds. */
export const turns = ({kind}: Step): boolean => kind === 'prove-replies' || kind === 'prove-motion';
/** Steps a person has a part in. */
export const isForPerson = (step: Step): boolean => stepKinds.of(step).forPerson === true;
export const touchesOf = (step: Step): readonly Touch[] => stepKinds.of(step).touches(step);
/**
 * Whether propellers must be off before these steps begin: what is written to an ESC may turn its motor when it starts again,
 * and the proofs that are held turn all of them.
 */
export const needsPropsOff = (steps: readonly Step[]): boolean =>
  steps.some((step) => turns(step) || touchesOf(step).some(({at}) => at !== 'controller'));
/** Images that a step writes; none where it writes no firmware. */
export const imagesOf = (step: Step): readonly ImageToWrite[] => stepKinds.of(step).images?.(step).writes ?? [];
/** Whether a step's kind is one that writes images. */
export const writesImages = (step: Step): boolean => 'images' in stepKinds.of(step);
/** Kinds a person may leave out of an order. The snapshot before and the read-back after what is written stay. */
export const leavableKinds: readonly StepMeaning[] = all.filter((kind) => kind.leavable !== undefined);

/** The steps a work order is made of. */
import type {ControllerPlan} from '../controller/plan';
import type {ImagePart} from '../firmware/page-plan';
import type {ImageRef} from '../firmware/planned-image';
import type {LayoutRevision} from '../settings/definitions';
import type {Settings} from '../settings/page';

interface StepText {
  readonly id: string;
  readonly title: string;
  readonly note: string;
  /** Estimated time, ms. */
  readonly estimateMs: number;
}

/** An ESC as a step addresses it: by output, and by chip serial so that a swapped plug is noticed. */
export interface StepTarget {
  readonly output: number;
  readonly serial: string;
}

export interface ImageToWrite {
  readonly image: ImageRef;
  readonly part: ImagePart;
  readonly pages: number;
  readonly equal: number;
  /** Write every page, equal or not. */
  readonly rewrite: boolean;
  /** Write the identity page at least: the bootloader then clears a module that is not planned any more. */
  readonly clearsModule: boolean;
}

export interface SettingsTarget extends StepTarget {
  readonly layout: LayoutRevision;
  readonly values: Settings;
}

export interface ProvenTarget extends StepTarget {
  readonly images: readonly {readonly part: ImagePart; readonly sha256: string}[];
  /** The module region must be empty. */
  readonly noModule?: boolean;
}

export interface ChangeText {
  readonly title: string;
  readonly note: string;
}

export type Step =
  | (StepText & {readonly kind: 'snapshot'; readonly outputs: readonly number[]})
  | (StepText & {readonly kind: 'write-firmware'; readonly target: StepTarget} & ImageToWrite)
  | (StepText & {readonly kind: 'cycle-battery'})
  | (StepText & {
      readonly kind: 'set-parameters';
      readonly targets: readonly SettingsTarget[];
      readonly changes: readonly ChangeText[];
    })
  /** Puts settings pages back byte for byte, as a snapshot holds them. */
  | (StepText & {
      readonly kind: 'restore-settings';
      readonly targets: readonly (StepTarget & {readonly page: Uint8Array})[];
    })
  | (StepText & {
      readonly kind: 'set-controller';
      readonly config: Partial<ControllerPlan>;
      readonly changes: readonly ChangeText[];
    })
  /** Everything for one ESC on a single-wire adapter: clip, snapshot, images, settings, checks. */
  | (StepText & {
      readonly kind: 'visit';
      readonly target: StepTarget;
      readonly writes: readonly ImageToWrite[];
      readonly settings: SettingsTarget | undefined;
      readonly proves: ProvenTarget;
      readonly changes: readonly ChangeText[];
    })
  | (StepText & {readonly kind: 'prove-pages'; readonly targets: readonly ProvenTarget[]})
  | (StepText & {readonly kind: 'prove-settings'; readonly outputs: readonly number[]})
  | (StepText & {readonly kind: 'prove-replies'; readonly outputs: number; readonly poles: number});

/** Steps a person may leave out of an order. The snapshot before and the read-back after what is written stay. */
export const leavableSteps = ['write-firmware', 'set-parameters', 'set-controller', 'prove-replies'] as const;
export type LeavableStep = (typeof leavableSteps)[number];
/** What a left-out kind would have done, in words. */
export const leavableText: Readonly<Record<LeavableStep, string>> = {
  'write-firmware': 'Writing firmware',
  'set-parameters': 'Setting parameters',
  'set-controller': 'Setting the flight controller',
  'prove-replies': 'Proving the replies',
};
export const isLeavable = (kind: StepKind): kind is LeavableStep => leavableSteps.some((leavable) => leavable === kind);

export type StepKind = Step['kind'];
export type StepOf<K extends StepKind> = Extract<Step, {kind: K}>;

/** Steps a person has a part in. */
export const isForPerson = (step: Step): boolean =>
  step.kind === 'cycle-battery' || step.kind === 'prove-replies' || step.kind === 'visit';

/** What a kind of step means: when it is planned, how it is put back, what it touches, its words. */
import type * as z from 'zod';
import type {FoundEsc, Found} from '../bench/found';
import type {ControllerPlan} from '../controller/plan';
import type {PlannedSettings} from '../controller/settings/planned-settings';
import type {Craft} from '../craft/craft';
import type {MeasuredBefore} from '../proof/standing';
import type {ControllerWork} from './controller-work';
import type {EscWork} from './esc-work';
import type {ImageToWrite, StepKind, StepOf, StepTarget} from './steps';

/** Something a step changes, and where. */
export interface Touch {
  readonly of: 'firmware' | 'settings' | 'controller' | 'loader';
  /** The output of an ESC, or the flight controller. */
  readonly at: number | 'controller';
}

export interface PlanQuestion {
  readonly craft: Craft;
  readonly found: Found;
  /** ESCs the order works on, with what is to be done to each. */
  readonly works: readonly EscWork[];
  /** What is to be written to the flight controller first. */
  readonly controllerWork?: ControllerWork | undefined;
  /** Whether some ESC of the craft is not among them. */
  readonly leftOut: boolean;
  /** Kinds of step a person leaves out. */
  readonly leaveSteps: readonly StepKind[];
  /** What was measured of this craft before, whatever came out. */
  readonly measured: readonly MeasuredBefore[];
}

interface InverseQuestion {
  /** The bench before the order that is put back, and as it is now. */
  readonly before: Found;
  readonly now: Found;
  /** ESCs that can be put back, with the images they held. */
  readonly escs: readonly {readonly before: FoundEsc; readonly images: readonly ImageToWrite[]}[];
}

export interface StepMeaning<K extends StepKind = StepKind> {
  readonly kind: K;
  /** Exact shape of a kept step of this kind. */
  readonly shape: z.ZodObject;
  /** Steps of this kind that bring what was found to the plan. */
  plan(question: PlanQuestion): readonly StepOf<K>[];
  /** Steps of this kind that put back what an order changed. */
  inverse(question: InverseQuestion): readonly StepOf<K>[];
  touches(step: StepOf<K>): readonly Touch[];
  /** Images it writes to its one ESC. */
  images?(step: StepOf<K>): ImagesOfStep;
  /** Whether it leaves an ESC with the settings that this one holds. */
  leaves?(step: StepOf<K>, esc: FoundEsc): boolean;
  /** Fields that it gives the flight controller. */
  controllerGoal?(step: StepOf<K>): Partial<ControllerPlan>;
  /** Settings beside its fields that it gives it. */
  settingsGoal?(step: StepOf<K>): PlannedSettings;
  /** It is planned only beside a step that touches one of these; beside any step where undefined. */
  onlyWith?(question: PlanQuestion): readonly Touch['of'][] | undefined;
  /** What it would have done, in words: a person may leave it out. */
  readonly leavable?: string;
  /** Its steps go to just before those of this kind, where that is safe. */
  before?(question: PlanQuestion): StepKind | undefined;
  /** A person has a part in it. */
  readonly forPerson?: true;
  /** It must be done again when one of what these name is. */
  readonly follows?: readonly Touch['of'][];
  /** It cannot be done while an ESC is isolated. */
  readonly needsEveryEsc?: true;
}

export interface ImagesOfStep {
  readonly target: StepTarget;
  readonly writes: readonly ImageToWrite[];
}

/** The kinds of step that there are, in the order in which an order takes them. */
export interface StepMeanings {
  readonly all: readonly StepMeaning[];
  of(step: StepOf<StepKind>): StepMeaning;
}

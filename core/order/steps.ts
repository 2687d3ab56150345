/**
 * The steps a work order is made of. Each kind adds its own shape to `StepShapes` from its file in `core/run/kinds`.
 */
import type {ImagePart} from '../firmware/plan/page-plan';
import type {ImageRef} from '../firmware/plan/planned-image';
import type {LayoutRevision} from '../settings/definitions';
import type {Settings} from '../settings/page';

/** What every step says of itself. */
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
  /** Start-up melody to keep beside them, RTTTL text; what is there stays where left out. */
  readonly melody?: string | undefined;
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

/** Shapes of steps by kind; open, so that a kind lives in one file. */
// oxlint-disable-next-line typescript/no-empty-object-type -- filled by the kinds
export interface StepShapes {}

export type StepKind = keyof StepShapes;
export type StepOf<K extends StepKind> = {readonly [Kind in K]: StepText & StepShapes[Kind] & {readonly kind: Kind}}[K];
export type Step = StepOf<StepKind>;

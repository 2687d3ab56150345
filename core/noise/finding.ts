/** One thing that a flight says is wrong: what was measured, and what to do next. */
import type {Axis} from '../flight/mapping';

export type FindingKind =
  | 'jitter'
  | 'missing-rows'
  | 'clipped'
  | 'aliased'
  | 'wrong-poles'
  | 'unbalanced'
  | 'loose'
  | 'long-coast'
  | 'resonance'
  | 'electrical'
  | 'reply-loss'
  | 'desync';
/** Pictures of the Noise station. */
export type Evidence = 'order map' | 'motor lines' | 'throttle map' | 'time map' | 'none';

export interface Finding {
  readonly kind: FindingKind;
  /** Output, counted from 0. */
  readonly motor?: number;
  readonly axis?: Axis;
  /** Where it stands, Hz, for what stays at one frequency. */
  readonly hz?: number;
  readonly text: string;
  /** One thing to do next. */
  readonly next: string;
  readonly evidence: Evidence;
}

/** A recording of motor wires on a bench, with what its flight controller counted meanwhile. */
import type {Wire} from './capture';

/** Replies of one output: asked for, lost, and what became of the lost ones. */
export interface CountedReplies {
  readonly asked: number;
  readonly lost: number;
  readonly missing: number;
  readonly code: number;
  readonly checksum: number;
}

export interface WireRecording {
  readonly wires: readonly Wire[];
  /** Last moment, s. */
  readonly to: number;
  /** One for each output. */
  readonly counted: readonly CountedReplies[];
}

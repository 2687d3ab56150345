/** What was measured after the work. */

export type ProofKind = 'pages' | 'settings' | 'controller' | 'replies' | 'rotation';

export interface ProofRecord {
  readonly kind: ProofKind;
  /** Epoch ms. */
  readonly at: number;
  readonly holds: boolean;
  /** What was measured, in words and figures. */
  readonly text: string;
  /** Reply loss per level and motor, for kind "replies". */
  readonly replies?: readonly ReplyMeasure[];
}

export interface ReplyMeasure {
  /** Throttle, 0…1. */
  readonly throttle: number;
  readonly motors: readonly {readonly asked: number; readonly lost: number; readonly rpm: number | null}[];
}

/** Share of replies lost, 0…1; undefined when none was asked for. */
export const replyLoss = ({asked, lost}: {asked: number; lost: number}): number | undefined =>
  asked > 0 ? lost / asked : undefined;

/** The worst loss of any motor at any level. */
export function worstLoss(measures: readonly ReplyMeasure[]): number | undefined {
  const losses = measures.flatMap((m) => m.motors.map(replyLoss));
  return losses.some((l) => l === undefined) || !losses.length ? undefined : Math.max(...losses.map((l) => l!));
}

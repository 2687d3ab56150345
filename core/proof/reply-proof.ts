/** The proof that measured replies give. */
import {countOf, isSome, type Count, type ProofRecord, type ProofScope} from './proof';
import {judgeReplies, type ReplyMeasure} from './replies';

/** Undefined when no reply was asked for on any ESC. */
export function replyProof(
  measures: readonly ReplyMeasure[],
  on: readonly {readonly output: number; readonly serial: string}[],
  about: Pick<ProofRecord, 'at' | 'session' | 'cycles' | 'planned'>,
): ProofRecord | undefined {
  const scope = replyScope(measures, on);
  const {holds, text} = judgeReplies(measures);
  return scope && {...scope, ...about, holds, text, kind: 'replies', replies: measures};
}

function replyScope(
  measures: readonly ReplyMeasure[],
  on: readonly {output: number; serial: string}[],
): ProofScope | undefined {
  const count: Count | undefined = countOf(
    measures.reduce((sum, m) => sum + m.motors.reduce((s, motor) => s + motor.asked, 0), 0),
  );
  return count === undefined || !isSome(on) ? undefined : {count, on};
}

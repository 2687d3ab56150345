/** The proof that measured replies give, and what a run under load takes from it. */
import {countOf, isSome, type Count, type NewProof, type ProofScope} from '../../proof/proof';
import {judgeQuality, type ReplyQuality} from '../../replies/reply-quality';
import {judgeReplies, type ReplyMeasure} from '../../replies/replies';

/** Undefined when no reply was asked for on any ESC. */
export function replyProof(
  measures: readonly ReplyMeasure[],
  on: readonly {readonly output: number; readonly serial: string}[],
  about: Pick<NewProof, 'at' | 'session' | 'cycles' | 'grounds'>,
): NewProof | undefined {
  const scope = replyScope(
    measures.flatMap(({motors}) => motors),
    on,
  );
  const {holds, text} = judgeReplies(measures);
  return scope && {...scope, ...about, holds, text, kind: 'replies', replies: measures};
}

/** Whether a run under load lost replies, or told speeds that cannot be. */
export const contradicts = ({motors}: ReplyQuality): boolean => motors.some((m) => m.lost > 0 || m.implausible > 0);

/**
 * What a run under load that {@link contradicts} is to the proof: it does not hold. One that passes
 * proves nothing by itself: undefined.
 */
export function loadDisproof(
  quality: ReplyQuality,
  on: readonly {readonly output: number; readonly serial: string}[],
  about: Pick<NewProof, 'at' | 'session' | 'cycles' | 'grounds'>,
): NewProof | undefined {
  const {motors} = quality;
  if (!contradicts(quality)) return undefined;
  const scope = replyScope(motors, on);
  return (
    scope && {...scope, ...about, holds: false, text: `Under load: ${judgeQuality(quality).text}`, kind: 'replies'}
  );
}

function replyScope(
  motors: readonly {readonly asked: number}[],
  on: readonly {output: number; serial: string}[],
): ProofScope | undefined {
  const count: Count | undefined = countOf(motors.reduce((sum, {asked}) => sum + asked, 0));
  return count === undefined || !isSome(on) ? undefined : {count, on};
}

/** What the frames of a wire add up to, and what each reply means. */
import {protocolRate} from '../../dshot/protocol';
import {erpmOfPeriod, rpmOfErpm} from '../../dshot/reply';
import {replyMeaning, type ReplyMeaning} from '../../dshot/reply-meaning';
import type {DecodedWire} from '../decode/decode-wire';
import type {ReadReply} from '../decode/reply-frames';

export interface LossFigures {
  readonly ok: number;
  readonly bad: number;
  readonly missing: number;
  /** Bad and missing ones of all that were due, %; undefined where none was. */
  readonly lossPercent: number | undefined;
  /** Bad ones of those that came, %; undefined where none came. */
  readonly lossOfSeenPercent: number | undefined;
}

/** One reply is due for each command of a bidirectional wire. */
export function lossOf({replies}: Pick<DecodedWire, 'replies'>): LossFigures {
  const count = (status: ReadReply['status']) => replies.filter((r) => r.status === status).length;
  const [ok, bad, missing] = [count('ok'), count('bad'), count('missing')];
  return {
    ...{ok, bad, missing},
    lossPercent: replies.length ? (100 * (bad + missing)) / replies.length : undefined,
    lossOfSeenPercent: ok + bad ? (100 * bad) / (ok + bad) : undefined,
  };
}

/** Undefined for a reply that does not read. */
export const meaningOf = (
  {replies, extended}: Pick<DecodedWire, 'replies' | 'extended'>,
  index: number,
): ReplyMeaning | undefined => {
  const body = replies[index]?.body;
  return body === undefined ? undefined : replyMeaning(body, extended[index]!);
};

interface Speed {
  /** Undefined for a motor that stands. */
  readonly periodUs: number | undefined;
  readonly erpm: number;
  /** Undefined where nobody said how many poles there are. */
  readonly rpm: number | undefined;
}

export function speedOf(meaning: ReplyMeaning | undefined, poles: number | undefined): Speed | undefined {
  if (meaning?.kind !== 'speed') return undefined;
  const erpm = erpmOfPeriod(meaning.period);
  return {
    periodUs: meaning.period === 'stopped' ? undefined : meaning.period,
    erpm,
    rpm: poles === undefined ? undefined : rpmOfErpm(erpm, poles),
  };
}

/** Bits a second that a protocol is meant to have; undefined where it has no bits. */
export const nominalRate = ({rate}: Pick<DecodedWire, 'rate'>): number | undefined =>
  rate && protocolRate[rate.protocol] * 1000;

/**
 * How a proof stands now, by what it rests on. It is current while all of that is as it was, in the same connection and
 * power cycle; after a battery cycle, a cable out or a reload it was proven earlier, and nobody has read anything else since;
 * it is no longer valid when something that it rests on is another thing now, and that is named.
 */
import {compareGrounds, type KnownGround} from './ground';
import type {ProofKind, ProofRecord} from './proof';

export type Standing =
  | {readonly kind: 'none'}
  /** What was measured is not as it must be. */
  | {readonly kind: 'failed'; readonly proof: ProofRecord}
  | {readonly kind: 'current'; readonly proof: ProofRecord}
  | {readonly kind: 'earlier'; readonly proof: ProofRecord; readonly since: string}
  | {readonly kind: 'void'; readonly proof: ProofRecord; readonly why: string};

/** What a work order can write. */
export type WrittenPart = 'firmware' | 'settings' | 'controller' | 'arming';
/** Place of the order's last begin to write each of these, in the craft's running count. */
export type Written = {readonly [part in WrittenPart]?: number};

const partName: Readonly<Record<WrittenPart, string>> = {
  firmware: 'ESC firmware',
  settings: 'ESC settings',
  controller: "the flight controller's settings",
  arming: "the flight controller's settings",
};

/** What a proof of some kind is held against. */
export interface StandingQuestion {
  /** What it would rest on now; what nobody has read since it was taken is not among it. */
  readonly grounds: readonly KnownGround[];
  /** Whether the bench was read since it was taken: what that did not bring is unread. */
  readonly isReadSince: boolean;
  /** What takes it back when it is written again. */
  readonly restsOn: readonly WrittenPart[];
  readonly written: Written;
  /** A flight is not on the bench: cable and battery take nothing from it. */
  readonly isOffBench: boolean;
  /** The connection of now and the battery's power cycle in it; undefined while nothing is connected. */
  readonly now: {readonly session: string; readonly cycles: number | undefined} | undefined;
}

export function standingOf(proof: ProofRecord | undefined, q: StandingQuestion): Standing {
  if (!proof) return {kind: 'none'};
  const {changes, unread} = compareGrounds(proof.grounds, q.grounds);
  const wrote = q.restsOn.find((part) => (q.written[part] ?? -Infinity) > proof.place);
  const why = [...changes, ...(wrote ? [`a work order has written ${partName[wrote]} since`] : [])];
  if (why.length) return {kind: 'void', proof, why: shortened(why)};
  if (!proof.holds) return {kind: 'failed', proof};
  const since = unread.length && q.isReadSince ? unreadSince : q.isOffBench ? undefined : whatHappened(proof, q.now);
  return since ? {kind: 'earlier', proof, since} : {kind: 'current', proof};
}

export const unreadSince = 'not everything that it rests on has been read since';

/** A kind that was measured of a craft once, whatever came out. */
export interface MeasuredBefore {
  readonly kind: ProofKind;
  /** What it rests on is another thing now. */
  readonly isLost: boolean;
}

export const measuredBefore = (standings: Readonly<Partial<Record<ProofKind, Standing>>>): MeasuredBefore[] =>
  Object.values(standings).flatMap((s) => (s.kind !== 'none' ? [{kind: s.proof.kind, isLost: s.kind === 'void'}] : []));

/** Whether a station may count on it. */
export const isProven = (s: Standing): boolean => s.kind === 'current' || s.kind === 'earlier';

/** Changes beyond these are counted, not listed. */
const maxListed = 3;
const shortened = (why: readonly string[]): string =>
  why.length > maxListed ? `${why.slice(0, maxListed).join('; ')}; and ${why.length - maxListed} more` : why.join('; ');

/** What happened to cable and battery since something was measured or seen; undefined where nothing did. */
export function whatHappened(
  proof: {readonly session: string; readonly cycles: number},
  now: StandingQuestion['now'],
): string | undefined {
  if (!now) return 'the bench is not connected now';
  if (now.session !== proof.session) return 'the cable was out or the page was loaded again since';
  if (now.cycles !== proof.cycles) return 'the battery was off since';
  return undefined;
}

/** What is to be said beside a proof, in a few words; empty when it is simply current. */
export function standingText(s: Standing): string {
  switch (s.kind) {
    case 'earlier':
      return `Proven earlier; ${s.since}.`;
    case 'void':
      return `No longer valid: ${s.why}.`;
    default:
      return '';
  }
}

/**
 * How a proof stands now. It holds while the bench is as it was when it was taken; after a battery cycle, a cable out or a
 * reload it held, and nobody has looked since; it is void when what it proved is not what is planned or there any more.
 */
import type {Plan} from '../craft/craft';
import type {Found} from '../bench/found';
import {motorList} from '../craft/motor-list';
import {plannedFor} from './planned';
import {latestProof, type ProofKind, type ProofRecord} from './proof';

export type Standing =
  | {readonly kind: 'none'}
  /** What was measured does not hold. */
  | {readonly kind: 'failed'; readonly proof: ProofRecord}
  | {readonly kind: 'holds'; readonly proof: ProofRecord}
  | {readonly kind: 'held'; readonly proof: ProofRecord; readonly since: string}
  | {readonly kind: 'void'; readonly proof: ProofRecord; readonly why: string};

/** When a work order last began to write each of these, epoch ms. */
export interface Written {
  readonly firmware?: number;
  readonly settings?: number;
  readonly controller?: number;
  /** Fields of the flight controller that decide whether the craft may be armed. */
  readonly arming?: number;
}

export interface StandingQuestion {
  readonly plan: Plan;
  readonly motors: number;
  readonly found: Found | undefined;
  readonly proofs: readonly ProofRecord[];
  readonly written: Written;
  /** The connection of now and the battery's power cycle in it; undefined while nothing is connected. */
  readonly now: {readonly session: string; readonly cycles: number | undefined} | undefined;
}

/** What voids each kind when it is written again. */
const voidedBy: Readonly<Record<ProofKind, readonly (keyof Written)[]>> = {
  pages: ['firmware'],
  settings: ['firmware', 'settings', 'controller'],
  controller: ['controller'],
  replies: ['firmware', 'settings', 'controller'],
  rotation: ['settings'],
  motion: ['firmware', 'settings'],
  mounting: ['arming'],
  receiver: ['arming'],
  'fail-safe': ['firmware', 'arming'],
  noise: ['firmware', 'settings', 'controller'],
};

/** Proofs that no ESC has a part in. */
const ofController: ReadonlySet<ProofKind> = new Set(['mounting', 'receiver']);

export function standingOf(kind: ProofKind, q: StandingQuestion): Standing {
  const proof = latestProof(q.proofs, kind);
  if (!proof) return {kind: 'none'};
  const why = whyVoid(proof, q);
  if (why) return {kind: 'void', proof, why};
  if (!proof.holds) return {kind: 'failed', proof};
  const since = whatHappened(proof, q.now);
  return since ? {kind: 'held', proof, since} : {kind: 'holds', proof};
}

/** Whether a station may count on it. */
export const isProven = (s: Standing): boolean => s.kind === 'holds' || s.kind === 'held';

function whyVoid(proof: ProofRecord, {plan, motors, found, written}: StandingQuestion): string | undefined {
  if (proof.planned !== plannedFor(proof.kind, plan)) return 'the plan is another one now';
  if (voidedBy[proof.kind].some((what) => (written[what] ?? -Infinity) > proof.at))
    return 'a work order has written since';
  if (ofController.has(proof.kind)) return undefined;
  const swapped = proof.on.find((p) => {
    const esc = found?.escs.find((e) => e.output === p.output);
    return esc !== undefined && esc.boot.serial !== p.serial;
  });
  if (swapped) return `another ESC is on motor ${swapped.output + 1} now`;
  if (proof.on.length >= motors) return undefined;
  const missing = Array.from({length: motors}, (_, i) => i).filter((i) => !proof.on.some((p) => p.output === i));
  return `it was not taken on ${motorList(missing, motors)}`;
}

/** A flight is not on the bench: nothing that happens to cable and battery afterwards takes anything from it. */
function whatHappened(proof: ProofRecord, now: StandingQuestion['now']): string | undefined {
  if (proof.kind === 'noise') return undefined;
  if (!now) return 'the bench is not connected now';
  if (now.session !== proof.session) return 'the cable was out or the page was loaded anew since';
  if (now.cycles !== proof.cycles) return 'the battery was off since';
  return undefined;
}

/** What is to be said beside a proof, in a few words; empty when it simply holds. */
export function standingText(s: Standing): string {
  switch (s.kind) {
    case 'held':
      return `It held then; ${s.since}.`;
    case 'void':
      return `Void: ${s.why}.`;
    default:
      return '';
  }
}

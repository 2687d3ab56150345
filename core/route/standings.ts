/** How every proof of a craft stands, and each sighting of its motors: the one place that the route, the screens and the drill ask. */
import type {Craft} from '../craft/craft';
import {wholePlan} from '../craft/whole-plan';
import {latestProof, proofKinds, type ProofKind} from '../proof/proof';
import {standingOf, unreadSince, whatHappened, type Standing, type StandingQuestion} from '../proof/standing';
import {sightingHolds, sightingNow, type Sighting, type SightingQuestion} from '../spin/sighting/sighting';
import type {CraftRecord} from './craft-record';
import {proofTable} from './proof-table';

/** A craft, what is known of it, and the connection of now. */
export interface RouteQuestion {
  readonly craft: Craft;
  readonly record: CraftRecord;
  readonly now: StandingQuestion['now'];
}

export type Standings = Readonly<Record<ProofKind, Standing>>;

export function standings({craft, record, now}: RouteQuestion): Standings {
  const {replaced, proofs, written} = record;
  const of = (kind: ProofKind): Standing => {
    const proof = latestProof(proofs, kind);
    const {restsOn, isOffBench = false, grounds} = proofTable[kind];
    const found = foundSince(record, proof?.place ?? 0);
    const known = grounds({craft, plan: wholePlan(craft), found, replaced});
    return standingOf(proof, {
      grounds: known,
      isReadSince: isReadSince(record, proof?.place ?? 0),
      restsOn,
      isOffBench,
      written,
      now,
    });
  };
  return Object.fromEntries(proofKinds.map((kind) => [kind, of(kind)])) as Record<ProofKind, Standing>;
}

/** Whether the bench was read after something was measured. */
const isReadSince = ({foundPlace}: CraftRecord, place: number): boolean => foundPlace > place;

/** What was found after something was measured: what was found before it says nothing against it. */
const foundSince = (record: CraftRecord, place: number) => (isReadSince(record, place) ? record.found : undefined);

export const sightingQuestion = ({craft, record: {found, replaced}}: RouteQuestion): SightingQuestion => ({
  ...{craft, found, replaced},
});

/** What was seen of order and rotation as a whole. */
export interface SeenStanding {
  readonly kind: 'none' | 'part' | 'current' | 'earlier' | 'void';
  /** Motors that were seen on the planned arm, turning the planned way, with nothing changed since. */
  readonly rightly: number;
  /** What has changed since, or what has happened; empty where neither. */
  readonly since: string;
}

export function seenStanding(q: RouteQuestion): SeenStanding {
  const {sightings} = q.record;
  const asked = sightingQuestion(q);
  const rightly = sightings.filter((s) => sightingHolds(s, asked)).length;
  const changes = sightings.flatMap((s) => sightingNow(s, asked).changes);
  if (changes.length) return {kind: 'void', rightly, since: [...new Set(changes)].slice(0, 3).join('; ')};
  if (rightly < q.craft.arms.length) return {kind: sightings.length ? 'part' : 'none', rightly, since: ''};
  const since = sightings.map((s) => happened(s, q)).find((text) => text !== undefined);
  return since ? {kind: 'earlier', rightly, since} : {kind: 'current', rightly, since: ''};
}

const happened = (s: Sighting, q: RouteQuestion): string | undefined =>
  isReadSince(q.record, s.place) && sightingNow(s, sightingQuestion(q)).unread.length
    ? unreadSince
    : whatHappened(s, q.now);

/** Whether a proof is newer than what was found, so that differences found before it are history. */
export const isNewerThanFound = (s: Standing, {foundPlace}: CraftRecord): boolean =>
  (s.kind === 'current' || s.kind === 'earlier') && s.proof.place > foundPlace;

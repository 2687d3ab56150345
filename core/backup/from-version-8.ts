/**
 * Brings records of version 8 to today's shape: proofs name what they rest on, and have a place in the craft's running count.
 * Those of before named neither: they are kept, and their one ground says that they were taken by an earlier Bidex.
 */
import {isWholeProof, proofKinds, type NewProof, type ProofRecord} from '../proof/proof';
import type {Written} from '../proof/standing';
import type {CraftRecord} from '../route/craft-record';
import type {Sighting} from '../spin/sighting/sighting';

/** What of a record had another shape. */
interface OldRecord extends Omit<
  CraftRecord,
  'count' | 'foundPlace' | 'replaced' | 'proofs' | 'sightings' | 'writtenAt'
> {
  readonly proofs?: readonly OldProof[];
  readonly sightings?: readonly Omit<Sighting, 'grounds' | 'place' | 'session' | 'cycles'>[];
  /** Epoch ms. */
  readonly written: Written;
}
type OldProof = Omit<ProofRecord, 'grounds' | 'place'> & {readonly planned?: string};

const groundOfBefore = {key: 'rules', value: 0} as const;

export function recordFromVersion8(old: object): CraftRecord {
  if ('count' in old) return old as CraftRecord;
  const record = old as OldRecord;
  const {written = {}} = record;
  const proofs = (record.proofs ?? []).filter(isKnown).map((proof): ProofRecord => ({...withGround(proof), place: 0}));
  const sightings = (record.sightings ?? []).map((s): Sighting => ({
    ...s,
    grounds: [groundOfBefore],
    place: 0,
    session: '',
    cycles: 0,
  }));
  return {...record, count: 0, foundPlace: 0, proofs, sightings, written: {}, writtenAt: written, replaced: {}};
}

/** A journal entry whose proof says so too. */
export function journalFromVersion8<T extends object>(old: T): T {
  const {proof, ...rest} = old as {readonly proof?: OldProof | NewProof};
  if (proof === undefined || 'grounds' in proof) return old;
  return (isKnown(proof) ? {...rest, proof: withGround(proof)} : rest) as T;
}

const isKnown = (proof: OldProof): boolean => isWholeProof(proof) && proofKinds.includes(proof.kind);

function withGround({planned: _, ...proof}: OldProof): NewProof {
  return {...proof, grounds: [groundOfBefore]};
}

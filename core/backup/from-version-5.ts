/** Brings a record of version 5 to today's shape: proofs that do not name their ESCs prove nothing any more. */
import {isWholeProof, type ProofRecord} from '../proof/proof';
import type {CraftRecord} from '../route/craft-record';

/** A record of version 8: see from-version-8.ts for what comes after. */
export function recordFromVersion5(old: object): object {
  const record = old as Partial<CraftRecord>;
  const proofs: readonly ProofRecord[] = record.proofs ?? [];
  return {
    ...record,
    sightings: record.sightings ?? [],
    proofs: proofs.filter(isWholeProof),
    written: record.written ?? {},
    // What was called a proof of the notches was a prediction, of a flight that need not be this craft's own.
    noise: record.written ? record.noise : undefined,
  };
}

/** A journal entry without a proof that does not name its ESCs; what happened stays told in its text. */
export function journalFromVersion5<T extends object>(old: T): T {
  const {proof, ...rest} = old as {readonly proof?: ProofRecord};
  return proof === undefined || isWholeProof(proof) ? old : (rest as T);
}

/** Proofs for tests: of a craft's plan as it is, on every arm, in the power cycle that tests begin with. */
import {wholePlan} from '../craft/whole-plan';
import type {Craft} from '../craft/craft';
import {plannedFor} from '../proof/planned';
import {countOf, type ProofKind, type ProofRecord, type Some, type ProvenEsc} from '../proof/proof';

export const testSession = 'this page';

export function proofOf(kind: ProofKind, craft: Craft, over: Partial<ProofRecord> = {}): ProofRecord {
  const on = craft.arms.map((_, output): ProvenEsc => ({output, serial: `S${output}`})) as unknown as Some<ProvenEsc>;
  return {
    kind,
    at: 5,
    session: testSession,
    cycles: 1,
    holds: true,
    text: kind,
    planned: plannedFor(kind, wholePlan(craft)),
    on,
    count: countOf(4)!,
    ...over,
  };
}

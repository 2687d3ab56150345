/** Proofs and sightings for tests: of a craft as it was found, on every arm, in the power cycle that tests begin with. */
import type {Found} from '../bench/found';
import type {Replaced} from '../bench/replaced';
import type {Craft} from '../craft/craft';
import {wantedDirections} from '../craft/craft';
import {wholePlan} from '../craft/whole-plan';
import {countOf, type ProofKind, type ProofRecord, type ProvenEsc, type Some} from '../proof/proof';
import {groundsOf} from '../route/proof-table';
import {groundsOfSighting, type Sighting} from '../spin/sighting/sighting';
import {foundAsPlanned} from './found-as-planned';

export const testSession = 'this page';

/** Where something was measured: on the bench as planned where left out. */
interface MeasuredOn {
  readonly found?: Found | undefined;
  readonly replaced?: Replaced;
}

export function proofOf(
  kind: ProofKind,
  craft: Craft,
  {found = foundAsPlanned(craft), replaced = {}, ...over}: Partial<ProofRecord> & MeasuredOn = {},
): ProofRecord {
  const on = craft.arms.map((_, output): ProvenEsc => ({output, serial: `S${output}`})) as unknown as Some<ProvenEsc>;
  return {
    kind,
    at: 5,
    place: 5,
    session: testSession,
    cycles: 1,
    holds: true,
    text: kind,
    grounds: groundsOf(kind, {craft, plan: wholePlan(craft), found, replaced}),
    on,
    count: countOf(4)!,
    ...over,
  };
}

/** Seen on its planned arm, turning as it must. */
export function sightingOf(
  output: number,
  craft: Craft,
  {found = foundAsPlanned(craft), replaced = {}, ...over}: Partial<Sighting> & MeasuredOn = {},
): Sighting {
  const arm = craft.plan.controller.arms[output]!;
  return {
    output,
    arm,
    sense: wantedDirections(craft)[arm]!,
    rotationSetting: found.escs.find((e) => e.output === output)?.settings?.values.rotation,
    mappedArm: found.controller?.config.arms[output],
    startsAtUs: 1020,
    coastDownS: 0.15,
    session: testSession,
    cycles: 1,
    place: 6,
    grounds: groundsOfSighting({output, arm}, {craft, found, replaced}),
    at: 6,
    ...over,
  };
}

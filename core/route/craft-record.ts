/** Records of one craft beside its plan, and how they grow: pure steps, the same for the application and the drill. */
import type {Found} from '../bench/found';
import {withReplaced, type Part, type Replaced} from '../bench/replaced';
import type {NewProof, ProofRecord} from '../proof/proof';
import type {Written, WrittenPart} from '../proof/standing';
import type {ScriptChoice} from '../spin/script/script-choices';
import type {Sighting} from '../spin/sighting/sighting';
import type {NoiseForecast} from '../tuning/noise-forecast';

export interface CraftRecord {
  readonly craftId: string;
  /** Everything that happened to this craft so far, counted: what comes later has a higher place, whatever a clock says. */
  readonly count: number;
  readonly found: Found | undefined;
  /** Place of what was found last. */
  readonly foundPlace: number;
  readonly proofs: readonly ProofRecord[];
  readonly sightings: readonly Sighting[];
  readonly noise: NoiseForecast | undefined;
  /** The first power-up that a person confirmed, with the current it drew at rest. */
  readonly firstPower?: {readonly at: number; readonly amps: number} | undefined;
  /** The script chosen for this craft. */
  readonly script?: ScriptChoice | undefined;
  /** What a person decided and why, for the logbook, oldest first; epoch ms. */
  readonly notes?: readonly {readonly at: number; readonly text: string}[] | undefined;
  /** Place of the last work order's begin to write firmware, settings, controller. */
  readonly written: Written;
  /** When that was, epoch ms: flights are kept by the time of day. */
  readonly writtenAt?: Written | undefined;
  /** Parts that a person said were replaced. */
  readonly replaced: Replaced;
  /** The tab that wrote it; another one reads it anew. */
  readonly writer?: string;
}

export const blankRecord = (craftId: string): CraftRecord => ({
  ...{craftId, count: 0, foundPlace: 0, found: undefined, proofs: [], sightings: [], noise: undefined},
  ...{written: {}, replaced: {}},
});

/** Proofs, sightings and the rest as one step changes them. */
export type RecordChange = Partial<Omit<CraftRecord, 'craftId' | 'writer'>>;

/** Proofs that are kept; what they rest on only of the newest of each kind, which alone can be current. */
const maxProofs = 200;

export function withProofs(record: CraftRecord, proofs: readonly NewProof[]): RecordChange {
  const placed = proofs.map((proof, i): ProofRecord => ({...proof, place: record.count + 1 + i}));
  const all = [...record.proofs, ...placed].slice(-maxProofs);
  const newest = new Set(new Map(all.map((proof) => [proof.kind, proof])).values());
  return {
    count: record.count + proofs.length,
    proofs: all.map((proof) =>
      newest.has(proof) || proof.grounds.length === 1 ? proof : {...proof, grounds: [proof.grounds[0]]},
    ),
  };
}

/** An order begins to write `part`: what was proven of it before is to be measured again. */
export const withWritten = ({count, written, writtenAt}: CraftRecord, part: WrittenPart, at: number): RecordChange => ({
  count: count + 1,
  written: {...written, [part]: count + 1},
  writtenAt: {...writtenAt, [part]: at},
  // What was written may drive a motor otherwise than before.
  firstPower: undefined,
});

export const withFound = ({count}: CraftRecord, found: Found): RecordChange => ({
  count: count + 1,
  found,
  foundPlace: count + 1,
});

/** Keeps the newest sighting of each output. */
export const withSighting = ({count, sightings}: CraftRecord, sighting: Omit<Sighting, 'place'>): RecordChange => ({
  count: count + 1,
  sightings: [...sightings.filter((s) => s.output !== sighting.output), {...sighting, place: count + 1}].sort(
    (a, b) => a.output - b.output,
  ),
});

/** A part is another one now; whatever was soldered for it makes the next power-up a first one again. */
export const withPartReplaced = ({count, replaced}: CraftRecord, part: Part): RecordChange => ({
  count: count + 1,
  replaced: withReplaced(replaced, part),
  firstPower: undefined,
});

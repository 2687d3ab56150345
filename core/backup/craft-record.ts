import type {ProofRecord} from '../proof/proof';
import type {Written} from '../proof/standing';
import type {Found} from '../bench/found';
import type {NoiseForecast} from '../tuning/noise-forecast';
import type {ScriptChoice} from '../spin/script-choices';
import type {Sighting} from '../spin/sighting';

/** Records of one craft beside its plan. */
export interface CraftRecord {
  readonly craftId: string;
  readonly found: Found | undefined;
  readonly proofs: readonly ProofRecord[];
  readonly sightings: readonly Sighting[];
  readonly noise: NoiseForecast | undefined;
  /** The first power-up that a person confirmed, with the current it drew at rest. */
  readonly firstPower?: {readonly at: number; readonly amps: number} | undefined;
  /** The script chosen for this craft. */
  readonly script?: ScriptChoice | undefined;
  /** What a person decided and why, for the logbook, oldest first; epoch ms. */
  readonly notes?: readonly {readonly at: number; readonly text: string}[] | undefined;
  /** When a work order last began to write firmware, settings, controller. */
  readonly written: Written;
  /** The tab that wrote it; another one reads it anew. */
  readonly writer?: string;
}

/** How far each station of the route is, from what was found, planned and proven. */
import {wantedSenses, type ControllerPlan, type Craft, type RotationSense} from '../craft/craft';
import {findDifferences} from './difference';
import type {Found} from './found';
import type {ProofRecord} from '../proof/proof';

export const stationNames = [
  'craft',
  'survey',
  'firmware',
  'parameters',
  'spin',
  'signal',
  'noise',
  'sign-off',
] as const;
export type StationName = (typeof stationNames)[number];

export interface StationState {
  readonly state: 'open' | 'part' | 'done';
  /** A few words beside the name; empty when there is nothing to say. */
  readonly note: string;
}

/** What a person saw turn at the Spin station. */
export interface Sighting {
  readonly output: number;
  readonly arm: number;
  readonly sense: RotationSense;
  /** Rotation setting of the ESC when it was seen. */
  readonly rotationSetting: number | undefined;
  readonly startsAtUs: number | undefined;
  readonly coastDownS: number | undefined;
  /** Epoch ms. */
  readonly at: number;
}

/** What the Noise station concluded about one flight with the filters found on the craft. */
export interface NoiseProof {
  readonly flight: string;
  readonly ratio: number;
  readonly gainDb: number;
  readonly delayMs: number;
  readonly holds: boolean;
  readonly at: number;
}

export interface RouteQuestion {
  readonly craft: Craft;
  readonly found: Found | undefined;
  readonly proofs: readonly ProofRecord[];
  readonly sightings: readonly Sighting[];
  readonly noise: NoiseProof | undefined;
}

const open = (note = ''): StationState => ({state: 'open', note});
const part = (note: string): StationState => ({state: 'part', note});
const done = (note = ''): StationState => ({state: 'done', note});

const signalFields: readonly (keyof ControllerPlan)[] = ['protocol', 'replies', 'loopHz', 'poles'];
const noiseFields: readonly (keyof ControllerPlan)[] = [
  'poles',
  'notchHarmonics',
  'notchQ',
  'notchMinHz',
  'movingNotches',
  'gyroLowPassHz',
];

/** The newest proof of a kind. */
export const latestProof = (proofs: readonly ProofRecord[], kind: ProofRecord['kind']): ProofRecord | undefined =>
  proofs.filter((p) => p.kind === kind).at(-1);

/** Whether what was seen is right and still true of the ESC as found. */
export function sightingHolds(s: Sighting, craft: Craft, found: Found | undefined): boolean {
  const setting = found?.escs.find((e) => e.output === s.output)?.settings?.values.rotation;
  return (
    s.arm === craft.plan.controller.arms[s.output] &&
    s.sense === wantedSenses(craft)[s.arm] &&
    setting === s.rotationSetting
  );
}

export function routeStates(q: RouteQuestion): Record<StationName, StationState> {
  const {craft, found, proofs} = q;
  const motors = craft.arms.length;
  const differences = found && findDifferences(craft.plan, found);
  const pages = latestProof(proofs, 'pages');
  const settings = latestProof(proofs, 'settings');
  const replies = latestProof(proofs, 'replies');
  const differs = (fields: readonly (keyof ControllerPlan)[]) =>
    !!differences?.controller.some((d) => fields.includes(d.field));
  const seen = q.sightings.filter((s) => sightingHolds(s, craft, found)).length;
  const states = {
    craft: done(),
    survey: !found
      ? open()
      : found.escs.length === motors
        ? done(`${motors} of ${motors}`)
        : part(`${found.escs.length} of ${motors}`),
    firmware: !differences
      ? open()
      : differences.firmware.length
        ? part(`${differences.firmware.length} behind`)
        : pages?.holds
          ? done(craft.plan.firmware.version)
          : part('not proven'),
    parameters: !differences
      ? open()
      : differences.parameters.length
        ? part(`${new Set(differences.parameters.map((d) => d.key)).size} differ`)
        : settings?.holds
          ? done()
          : part('not proven'),
    spin: seen === motors ? done(`${motors} of ${motors}`) : q.sightings.length ? part(`${seen} of ${motors}`) : open(),
    signal: !replies
      ? open()
      : !replies.holds
        ? part('replies lost')
        : differs(signalFields)
          ? part('plan changed')
          : done('0.0 % lost'),
    noise: !q.noise
      ? open()
      : q.noise.holds && !differs(noiseFields)
        ? done(q.noise.flight)
        : part(differs(noiseFields) ? 'plan changed' : q.noise.flight),
  };
  const left = Object.values(states).filter((s) => s.state !== 'done').length;
  return {...states, 'sign-off': left === 0 ? done('all proven') : open(found ? `${left} open` : '')};
}

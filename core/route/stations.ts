/** How far each station of the route is, from what was found, planned and proven. */
import {twoSides} from '../spin/two-sides';
import {wholePlan} from '../craft/whole-plan';
import {armingFindings} from '../compare/rules/arming-findings';
import type {ControllerPlan} from '../controller/plan';
import type {Craft} from '../craft/craft';
import {plannedFilters, type NoiseForecast} from '../tuning/noise-forecast';
import {sightingHolds, type Sighting} from '../spin/sighting';
import {findDifferences} from '../compare/difference';
import type {Found} from '../bench/found';
import {signalFields} from '../proof/planned';
import {isProven, standingOf, type Standing, type StandingQuestion} from '../proof/standing';

export const stationNames = [
  'craft',
  'survey',
  'firmware',
  'parameters',
  'spin',
  'signal',
  'arming',
  'noise',
  'sign-off',
] as const;
export type StationName = (typeof stationNames)[number];

export const stationTitles: Readonly<Record<StationName, string>> = {
  craft: 'Craft',
  survey: 'Survey',
  firmware: 'Firmware',
  parameters: 'Parameters',
  spin: 'Spin',
  signal: 'Signal',
  arming: 'Arming',
  noise: 'Noise',
  'sign-off': 'Sign-off',
};

export interface StationState {
  readonly state: 'open' | 'part' | 'done';
  /** A few words beside the name; empty when there is nothing to say. */
  readonly note: string;
}

export interface RouteQuestion extends Omit<StandingQuestion, 'plan' | 'motors'> {
  readonly craft: Craft;
  readonly found: Found | undefined;
  readonly sightings: readonly Sighting[];
  readonly noise: NoiseForecast | undefined;
}

/** The proofs of a craft and how they stand now. */
export const standings = (q: RouteQuestion) => {
  const question = {...q, plan: wholePlan(q.craft), motors: q.craft.arms.length};
  return {
    pages: standingOf('pages', question),
    settings: standingOf('settings', question),
    replies: standingOf('replies', question),
    motion: standingOf('motion', question),
    mounting: standingOf('mounting', question),
    receiver: standingOf('receiver', question),
    failSafe: standingOf('fail-safe', question),
    noise: standingOf('noise', question),
  };
};

const open = (note = ''): StationState => ({state: 'open', note});
const part = (note: string): StationState => ({state: 'part', note});
const done = (note = ''): StationState => ({state: 'done', note});

/** Whether a proof is newer than what was found, so that differences found before it are history. */
const isNewer = (s: Standing, found: Found): boolean => isProven(s) && s.kind !== 'none' && s.proof.at >= found.at;

/** Stations that sign-off does not wait for: a flight comes after it. */
const afterSignOff: ReadonlySet<StationName> = new Set(['noise']);

export function routeStates(q: RouteQuestion): Record<StationName, StationState> {
  const {craft, found} = q;
  const motors = craft.arms.length;
  const differences = found && findDifferences(wholePlan(craft), found);
  const all = standings(q);
  const {pages, settings, replies, motion, noise} = all;
  const differs = (fields: readonly (keyof ControllerPlan)[]) =>
    !!found && !isNewer(settings, found) && !!differences?.controller.some((d) => fields.includes(d.field));
  const states = {
    craft: done(),
    survey: !found
      ? open()
      : found.escs.length === motors
        ? done(`${motors} of ${motors}`)
        : part(`${found.escs.length} of ${motors}`),
    firmware:
      !differences || !found
        ? open()
        : differences.firmware.length && !isNewer(pages, found)
          ? part(`${differences.firmware.length} behind`)
          : proven(pages, craft.plan.firmware.version),
    parameters:
      !differences || !found
        ? open()
        : differences.parameters.length && !isNewer(settings, found)
          ? part(`${new Set(differences.parameters.map((d) => d.key)).size} differ`)
          : proven(settings, ''),
    spin: spinState(q, motion),
    signal: signalState(replies, differs(signalFields)),
    arming: armingState(q, all),
    noise: noiseState(q, noise),
  };
  const left = openStations(states).length;
  return {...states, 'sign-off': left === 0 ? done('all proven') : open(found ? `${left} open` : '')};
}

/** Stations that sign-off still waits for. */
export const openStations = (states: Partial<Record<StationName, StationState>>): StationName[] =>
  stationNames.filter(
    (name) => name !== 'sign-off' && !afterSignOff.has(name) && states[name] && states[name].state !== 'done',
  );

function proven(s: Standing, note: string): StationState {
  switch (s.kind) {
    case 'holds':
      return done(note);
    case 'held':
      return done(note ? `${note}, held` : 'held');
    case 'void':
      return part('proof void');
    default:
      return part('not proven');
  }
}

/** Order and sense seen, both sides agreeing, and, where replies tell speeds, the motors measured. */
function spinState({craft, found, sightings}: RouteQuestion, motion: Standing): StationState {
  const motors = craft.arms.length;
  const seen = sightings.filter((s) => sightingHolds(s, craft, found)).length;
  if (seen < motors) return sightings.length ? part(`${seen} of ${motors}`) : open();
  if (twoSides(craft, found, sightings).kind === 'would flip') return part('would flip');
  if (!craft.plan.controller.replies) return done(`${motors} of ${motors}`);
  if (motion.kind === 'none') return part('not measured');
  if (motion.kind === 'failed') return part('stands out');
  return proven(motion, `${motors} of ${motors}`);
}

function signalState(replies: Standing, differs: boolean): StationState {
  if (replies.kind === 'none') return open();
  if (replies.kind === 'failed') return part('replies lost');
  if (replies.kind === 'void') return part('proof void');
  return differs ? part('plan changed') : done(replies.kind === 'held' ? 'none lost, held' : 'none lost');
}

/** Mounting, receiver and fail-safe proven, and nothing set that must not be armed. */
function armingState(q: RouteQuestion, all: ReturnType<typeof standings>): StationState {
  if (!q.found?.controller) return open();
  const findings = armingFindings(q.craft, q.found.controller.config);
  if (findings.some((f) => f.severity === 'refuse')) return part('not safe');
  const proofs = armingProofs(q.craft, all);
  const failed = proofs.find(({standing}) => standing.kind === 'failed' || standing.kind === 'void');
  if (failed) return part(failed.standing.kind === 'void' ? 'proof void' : 'wrong');
  const proven = proofs.filter(({standing}) => isProven(standing)).length;
  if (proven === proofs.length) return done(proofs.some((p) => p.standing.kind === 'held') ? 'proven, held' : 'proven');
  return proven ? part(`${proven} of ${proofs.length}`) : open();
}

/** What has to be proven before a craft may be armed: a fail-safe is measured by replies, where there are any. */
export const armingProofs = (
  {plan}: Craft,
  {mounting, receiver, failSafe}: Pick<ReturnType<typeof standings>, 'mounting' | 'receiver' | 'failSafe'>,
): readonly {readonly name: string; readonly standing: Standing}[] => [
  {name: 'mounting', standing: mounting},
  {name: 'receiver', standing: receiver},
  ...(plan.controller.replies ? [{name: 'fail-safe', standing: failSafe}] : []),
];

/** Quiet by two flights; else predicted, where a flight is there to predict from. */
function noiseState({noise: forecast, craft}: RouteQuestion, noise: Standing): StationState {
  if (noise.kind === 'holds' || noise.kind === 'held') return done('quieter');
  if (noise.kind === 'void') return part('proof void');
  if (!forecast) return open();
  return part(forecast.planned === plannedFilters(craft.plan.controller) ? 'predicted' : 'plan changed');
}

/** How far each station of the route is, from what was found, planned and proven. */
import {armingFindings} from '../compare/rules/arming-findings';
import {findDifferences, type Differences} from '../compare/difference';
import {planOver, type ControllerPlan} from '../controller/plan';
import {wholePlan} from '../craft/whole-plan';
import {isProven, type Standing} from '../proof/standing';
import {signalFields} from '../spin/verdict/proof-rows';
import {twoSides} from '../spin/sighting/two-sides';
import {counted} from '../words/counted';
import {stationNames, type StationName} from '../words/station-names';
import {plannedFilters} from '../tuning/noise-forecast';
import {
  isNewerThanFound,
  seenStanding,
  sightingQuestion,
  standings,
  type RouteQuestion,
  type Standings,
} from './standings';

export interface StationState {
  /** 'absent' where a loose ESC has nothing of it. */
  readonly state: 'open' | 'part' | 'done' | 'absent';
  /** A few words beside the name; empty when there is nothing to say. */
  readonly note: string;
}

const open = (note = ''): StationState => ({state: 'open', note});
const part = (note: string): StationState => ({state: 'part', note});
const done = (note = ''): StationState => ({state: 'done', note});
const absent: StationState = {state: 'absent', note: ''};

/** Stations that sign-off does not wait for: a flight comes after it. */
const afterSignOff: ReadonlySet<StationName> = new Set(['noise']);

/**
 * @param all how its proofs stand, where that has been asked already.
 * @param differences plan against found, where that has been computed already.
 */
export function routeStates(
  q: RouteQuestion,
  all: Standings = standings(q),
  differences = differencesOf(q),
): Record<StationName, StationState> {
  const {craft, record} = q;
  const {found} = record;
  const motors = craft.arms.length;
  const {pages, settings} = all;
  const differs = (fields: readonly (keyof ControllerPlan)[]) =>
    !!found && !isNewerThanFound(settings, record) && !!differences?.controller.some((d) => fields.includes(d.field));
  const states = {
    craft: craft.guessed ? part(`${counted(craft.guessed.length, 'guess', 'guesses')} to check`) : done(),
    survey: !found
      ? open()
      : found.escs.length === motors
        ? done(`${motors} of ${motors}`)
        : part(`${found.escs.length} of ${motors}`),
    firmware:
      !differences || !found
        ? open()
        : differences.firmware.length && !isNewerThanFound(pages, record)
          ? part(`${differences.firmware.length} behind`)
          : proven(pages, craft.plan.firmware.version),
    parameters:
      !differences || !found
        ? open()
        : parametersOff(differences) && !isNewerThanFound(settings, record)
          ? part(`${parametersOff(differences)} differ`)
          : proven(settings, ''),
    ...(craft.loose ? nothingTurns : turningStates(q, all, differs(signalFields))),
  };
  const left = openStations(states).length;
  return {...states, 'sign-off': left === 0 ? done('all proven') : open(found ? `${left} open` : '')};
}

const nothingTurns = {spin: absent, signal: absent, arming: absent, noise: absent};

/** Stations at which motors, sticks and flights are asked. @param signalDiffers the plan of the signal is not what was found. */
const turningStates = (q: RouteQuestion, all: Standings, signalDiffers: boolean) => ({
  spin: spinState(q, all.motion),
  signal: signalState(all.replies, signalDiffers),
  arming: armingState(q, all),
  noise: noiseState(q, all.noise),
});

/** Lines of the Parameters station that are not as planned. */
const parametersOff = ({parameters, settings}: Differences): number =>
  new Set(parameters.map((d) => d.key)).size + settings.length;

/** Undefined before a survey. */
const differencesOf = ({craft, record: {found}}: RouteQuestion): Differences | undefined =>
  found && findDifferences(wholePlan(craft), found);

/** Stations that sign-off still waits for. */
export const openStations = (states: Partial<Record<StationName, StationState>>): StationName[] =>
  stationNames.filter(
    (name) =>
      name !== 'sign-off' &&
      !afterSignOff.has(name) &&
      states[name] &&
      states[name].state !== 'done' &&
      states[name].state !== 'absent',
  );

function proven(s: Standing, note: string): StationState {
  switch (s.kind) {
    case 'current':
      return done(note);
    case 'earlier':
      return done(note ? `${note}, earlier` : 'earlier');
    case 'void':
      return part('no longer valid');
    default:
      return part('not proven');
  }
}

/** Order and sense seen, both sides agreeing, and, where replies tell speeds, the motors measured. */
function spinState(q: RouteQuestion, motion: Standing): StationState {
  const {craft, record} = q;
  const motors = craft.arms.length;
  const seen = seenStanding(q);
  if (seen.rightly < motors) return record.sightings.length ? part(`${seen.rightly} of ${motors}`) : open();
  if (twoSides(sightingQuestion(q), record.sightings).kind === 'would flip') return part('would flip');
  const note = `${motors} of ${motors}`;
  if (!craft.plan.controller.replies) return done(seen.kind === 'earlier' ? `${note}, earlier` : note);
  if (motion.kind === 'none') return part('not measured');
  if (motion.kind === 'failed') return part('stands out');
  return proven(motion, note);
}

function signalState(replies: Standing, differs: boolean): StationState {
  if (replies.kind === 'none') return open();
  if (replies.kind === 'failed') return part('replies lost');
  if (replies.kind === 'void') return part('no longer valid');
  return differs ? part('plan changed') : done(replies.kind === 'earlier' ? 'none lost, earlier' : 'none lost');
}

/** Mounting, receiver and fail-safe proven, and nothing set that must not be armed. */
function armingState({craft, record}: RouteQuestion, all: Standings): StationState {
  if (!record.found?.controller) return open();
  const findings = armingFindings(craft, record.found.controller.config);
  if (findings.some((f) => f.severity === 'refuse')) return part('not safe');
  const proofs = armingProofs({craft, record}, all);
  const failed = proofs.find(({standing}) => standing.kind === 'failed' || standing.kind === 'void');
  if (failed) return part(failed.standing.kind === 'void' ? 'no longer valid' : 'wrong');
  const proven = proofs.filter(({standing}) => isProven(standing)).length;
  if (proven === proofs.length)
    return done(proofs.some((p) => p.standing.kind === 'earlier') ? 'proven earlier' : 'proven');
  return proven ? part(`${proven} of ${proofs.length}`) : open();
}

/** Levelled flying has a switch, as planned, else as found. */
export const wantsSelfLevel = ({craft, record}: Pick<RouteQuestion, 'craft' | 'record'>): boolean =>
  !!planOver(craft.plan.controller, record.found?.controller?.config).switches?.some((s) => s.use === 'level');

/**
 * What has to be proven before a craft may be armed: a fail-safe is measured by replies, where there are any, and level is
 * asked for where something levels itself.
 */
export const armingProofs = (
  q: Pick<RouteQuestion, 'craft' | 'record'>,
  {mounting, receiver, 'fail-safe': failSafe, level}: Standings,
): readonly {readonly name: string; readonly standing: Standing}[] => [
  {name: 'mounting', standing: mounting},
  {name: 'receiver', standing: receiver},
  ...(q.craft.plan.controller.replies ? [{name: 'fail-safe', standing: failSafe}] : []),
  ...(wantsSelfLevel(q) ? [{name: 'level', standing: level}] : []),
];

/** Quiet by two flights; else predicted, where a flight is there to predict from. */
function noiseState({record: {noise: forecast}, craft}: RouteQuestion, noise: Standing): StationState {
  if (isProven(noise)) return done('quieter');
  if (noise.kind === 'void') return part('no longer valid');
  if (!forecast) return open();
  return part(forecast.planned === plannedFilters(craft.plan.controller) ? 'predicted' : 'plan changed');
}

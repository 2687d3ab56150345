/** What Sign-off says of a craft: every proof and how it stands, what is still open, and what is next. */
import type {Found} from '../../bench/found';
import {counted} from '../../words/counted';
import {armingFindings} from '../../compare/rules/arming-findings';
import type {ControllerIdentity} from '../../link/operations';
import type {NoiseForecast} from '../../tuning/noise-forecast';
import {gainText} from '../../tuning/predicted-gain';
import {standingText, whatHappened, type Standing} from '../../proof/standing';
import {openStations, routeStates, wantsSelfLevel, type StationState} from '../../route/stations';
import {type StationName} from '../../words/station-names';
import {
  seenStanding,
  sightingQuestion,
  standings,
  type RouteQuestion,
  type SeenStanding,
  type Standings,
} from '../../route/standings';
import {twoSides} from '../../spin/sighting/two-sides';

/** How a line stands; "wrong" is what was seen and must not be flown. */
export type LineKind = Standing['kind'] | 'wrong';

/** One row of the table of proofs. */
export interface ProofLine {
  readonly name: string;
  readonly station: StationName;
  readonly kind: LineKind;
  /** What was measured, or what has to be done to measure it. */
  readonly text: string;
  /** What happened since it was measured; empty when nothing did. */
  readonly since: string;
  /** When it was measured, epoch ms; undefined where it was not. */
  readonly at: number | undefined;
}

/** Computed from a model, proves nothing. */
interface Prediction {
  readonly text: string;
  readonly at: number;
}

interface SignOffSheet {
  readonly verdict: 'proven' | 'open' | 'must not fly';
  /** What sign-off waits for, in the order of the route. */
  readonly lines: readonly ProofLine[];
  /** Comes after sign-off and is never waited for. */
  readonly inFlight: readonly ProofLine[];
  readonly predicted: Prediction | undefined;
  /** Whether it flies at all: a loose ESC does not. */
  readonly flies: boolean;
  readonly open: readonly ProofLine[];
  /** Lines that were proven in an earlier connection or power cycle. */
  readonly earlier: number;
  /** Names of the open lines in one sentence; empty when all is proven. */
  readonly openNames: string;
  /** What the printed sheet says of the flight controller. */
  readonly controllerText: string;
}

export const isProvenLine = ({kind}: ProofLine): boolean => kind === 'current' || kind === 'earlier';

/** @param all how its proofs stand. @param states how far its stations are; both where that has been computed already. */
export function signOffSheet(
  q: RouteQuestion,
  all: Standings = standings(q),
  states: Stations = routeStates(q, all),
): SignOffSheet {
  const lines = withStations(waitedFor(q, all, states), states);
  const open = lines.filter((line) => !isProvenLine(line));
  const noise = all.noise.kind === 'none' ? [] : [proofLine('Quieter, by two flights', 'noise', all.noise, '')];
  return {
    verdict: open.some((l) => l.kind === 'wrong') ? 'must not fly' : open.length ? 'open' : 'proven',
    ...{lines, open, inFlight: noise, predicted: prediction(q.record.noise), flies: !q.craft.loose},
    earlier: lines.filter((l) => l.kind === 'earlier').length,
    openNames: open.map((l) => l.name.toLowerCase()).join('; '),
    controllerText: controllerText(q.record.found?.controller?.identity),
  };
}

const controllerText = (identity: ControllerIdentity | undefined): string =>
  identity ? `${identity.board} with ${identity.firmware} ${identity.version}` : 'flight controller not read';

type Stations = Readonly<Record<StationName, StationState>>;

function waitedFor(q: RouteQuestion, all: Standings, states: Stations): ProofLine[] {
  return [
    surveyLine(q, states),
    proofLine('Same firmware, page by page', 'firmware', all.pages, 'The work order compares every page.'),
    proofLine('Every setting as planned', 'parameters', all.settings, 'The work order reads every setting back.'),
    ...(q.craft.loose ? [] : flyingLines(q, all)),
  ];
}

/** What is asked of a craft beside its ESCs. */
function flyingLines(q: RouteQuestion, all: Standings): ProofLine[] {
  const {replies} = q.craft.plan.controller;
  return [
    ...spinLines(q, all.motion),
    proofLine('No reply lost', 'signal', all.replies, 'Not measured yet.'),
    proofLine('The board sits as set', 'arming', all.mounting, 'The craft has not been tilted yet.'),
    proofLine('Sticks on their channels, ends right', 'arming', all.receiver, 'The sticks have not been moved yet.'),
    ...(replies
      ? [
          proofLine(
            'Motors stop on signal loss',
            'arming',
            all['fail-safe'],
            'The transmitter has not been switched off yet.',
          ),
        ]
      : []),
    ...(wantsSelfLevel(q)
      ? [proofLine('Level is level', 'arming', all.level, 'It has not been measured at rest yet.')]
      : []),
    switchLine(q),
  ];
}

function proofLine(name: string, station: StationName, s: Standing, none: string): ProofLine {
  const proof = s.kind === 'none' ? undefined : s.proof;
  return {name, station, kind: s.kind, text: proof?.text ?? none, since: standingText(s), at: proof?.at};
}

/**
 * A station may be open although each of its proofs stands: the bench was found otherwise after them. Then its first line
 * says so, so that what sign-off counts and what the route shows are one.
 */
function withStations(lines: readonly ProofLine[], states: Stations): ProofLine[] {
  const open = new Set(
    openStations(states).filter((name) => lines.every((l) => l.station !== name || isProvenLine(l))),
  );
  return lines.map((line) => {
    if (!open.delete(line.station)) return line;
    return {...line, kind: 'none', since: `Found otherwise since: ${states[line.station].note}.`};
  });
}

function surveyLine(q: RouteQuestion, states: Stations): ProofLine {
  const {found} = q.record;
  return {
    name: 'Everything answers',
    station: 'survey',
    ...(states.survey.state === 'done' ? readLine(q) : {kind: 'none', since: ''}),
    text: found ? readText(found) : 'No survey yet.',
    at: found?.at,
  };
}

const readText = ({escs, controller}: Found): string =>
  `${counted(escs.length, 'ESC', 'ESCs')}${controller ? ' and the flight controller' : ''}`;

/** How stands what the last survey read: it may be another thing once cable or battery were off. */
function readLine({record: {found}, now}: RouteQuestion): Pick<ProofLine, 'kind' | 'since'> {
  if (!found) return {kind: 'none', since: ''};
  const session = now?.session ?? '';
  const since = whatHappened({session, cycles: found.power.cycles}, now);
  return since === undefined ? {kind: 'current', since: ''} : {kind: 'earlier', since: `Read earlier; ${since}.`};
}

const seenKind: Readonly<Record<SeenStanding['kind'], LineKind>> = {
  ...{none: 'none', part: 'none', current: 'current', earlier: 'earlier', void: 'void'},
};

/** What Spin proves, line by line with its number. */
function spinLines(q: RouteQuestion, motion: Standing): ProofLine[] {
  const {craft, record} = q;
  const {sightings} = record;
  const seen = seenStanding(q);
  const sides = twoSides(sightingQuestion(q), sightings);
  const at = sightings.length ? Math.max(...sightings.map((s) => s.at)) : undefined;
  return [
    {
      ...{name: 'Order and rotation', station: 'spin', kind: seenKind[seen.kind], at},
      text: sightings.length
        ? `${seen.rightly} of ${craft.arms.length} outputs seen on the planned arm, turning the planned way`
        : 'Not checked yet.',
      since: sinceSeen(seen),
    },
    {
      ...{
        name: 'Propeller direction: motors and flight controller agree',
        station: 'spin',
        at,
        since: '',
        text: sides.text,
      },
      kind: sides.kind === 'agree' ? seenKind[seen.kind] : sides.kind === 'would flip' ? 'wrong' : 'none',
    },
    ...(craft.plan.controller.replies
      ? [proofLine('Motors alike and plausible', 'spin', motion, 'Hold the motor card on the Spin station.')]
      : []),
  ];
}

function sinceSeen({kind, since}: SeenStanding): string {
  if (kind === 'void') return `No longer valid: ${since}.`;
  return kind === 'earlier' ? `Proven earlier; ${since}.` : '';
}

/** Whether what is set and planned may be armed at all. */
function switchLine(q: RouteQuestion): ProofLine {
  const {craft} = q;
  const {found} = q.record;
  const refused = armingFindings(craft, found?.controller?.config).find((f) => f.severity === 'refuse');
  return {
    name: 'Has its own arm switch',
    station: 'arming',
    ...(!found?.controller ? {kind: 'none', since: ''} : refused ? {kind: 'wrong', since: ''} : readLine(q)),
    text: refused
      ? `${refused.meaning} ${refused.remedy}`
      : 'A switch of its own arms it, off at power-up, apart from the others.',
    at: found?.at,
  };
}

function prediction(noise: NoiseForecast | undefined): Prediction | undefined {
  if (!noise) return undefined;
  const {flight, ratio, gainDb, against = 'no filters', delayMs, at} = noise;
  const ridge = ratio === undefined ? 'no clear ridge' : `ridge at ${ratio.toFixed(2)} × motor speed`;
  const delay = delayMs === undefined ? 'delay not stated' : `${delayMs.toFixed(2)} ms of delay`;
  const gain = `with the planned filters ${gainText({against, db: gainDb})}, from 80 Hz up`;
  return {text: `${flight}: ${ridge}; ${gain}, ${delay}`, at};
}

/**
 * The way in by what a craft does: for each thing that a pilot notices, where its causes show, in the order in which they are
 * worth a look, and what is known of each place so far. Causes are common practice of the trade; what is known comes from
 * proofs, sightings, the last run on the bench and the flight that is open.
 */
import {packRuleIds} from '../../compare/rules/pack';
import type {Finding as Breach} from '../../compare/rules/rule';
import type {Flight} from '../../flight/flight';
import type {Finding} from '../../noise/finding';
import type {MotionFinding} from '../../motion/report';
import {standingText, isProven, type Standing} from '../../proof/standing';
import type {ProofKind} from '../../proof/proof';
import {seenStanding} from '../../route/standings';
import {counted} from '../../words/counted';
import {standingWord} from '../../words/standing-words';
import {stationTitles, type StationName} from '../../words/station-names';
import type {JudgedCraft} from '../craft-question';

export const symptomNames = {
  'will-not-start': 'a motor does not start, or stutters',
  flips: 'it flips over at take-off',
  yaws: 'it turns around its axis by itself',
  dips: 'an arm dips in quick moves',
  twitches: 'it twitches in flight',
  rough: 'it shakes, or sounds rough',
  hot: 'motors or ESCs come back hot',
  falls: 'it falls out of the sky',
} as const;
export type Symptom = keyof typeof symptomNames;

/** What is open beside the record, and the rules that the plan breaks. */
export interface Measured {
  /** A run on the bench; one from a file is anybody's. */
  readonly run: {readonly source: string; readonly report: {readonly findings: readonly MotionFinding[]}} | undefined;
  /** A flight; one that was computed for the demo says nothing of this craft. */
  readonly flight:
    | {
        readonly flight: Pick<Flight, 'isDemo'>;
        readonly summary: {readonly report: {readonly findings: readonly Finding[]}};
      }
    | undefined;
  readonly breaches: readonly Breach[];
}

interface LookLine {
  readonly station: StationName;
  readonly title: string;
  /** What shows there, and why it makes the craft do that. */
  readonly why: string;
  readonly tag: 'ok' | 'diff' | 'wait';
  readonly word: string;
  /** What is known of it. */
  readonly text: string;
}

interface SymptomSheet {
  readonly choices: readonly {readonly label: string; readonly value: Symptom}[];
  readonly looks: readonly LookLine[];
}

type Known = Pick<LookLine, 'tag' | 'word' | 'text'>;
interface Look {
  readonly station: StationName;
  readonly why: string;
  readonly known: (q: JudgedCraft, measured: Measured) => Known;
}

export function symptomSheet(q: JudgedCraft, measured: Measured, symptom: Symptom | undefined): SymptomSheet {
  const looks = symptom === undefined ? [] : places[symptom];
  return {
    choices: (Object.keys(symptomNames) as Symptom[]).map((value) => ({value, label: symptomNames[value]})),
    looks: looks.map(({station, why, known}) => ({
      ...{station, why, title: stationTitles[station]},
      ...known(q, measured),
    })),
  };
}

const fine = (word: string, text: string): Known => ({tag: 'ok', word, text});
const found = (text: string): Known => ({tag: 'diff', word: '✗ found', text});
const open = (text: string): Known => ({tag: 'wait', word: 'open', text});

const ofStanding = (s: Standing, notYet: string): Known => {
  if (s.kind === 'failed') return found('What was measured last is not as it must be.');
  if (isProven(s)) return fine(standingWord[s.kind], standingText(s) || 'Nothing that it rests on has changed since.');
  return open(s.kind === 'void' ? standingText(s) : notYet);
};

/** A proof that has to stand. */
const proof =
  (kind: ProofKind, notYet: string): Look['known'] =>
  ({standings}) =>
    ofStanding(standings[kind], notYet);

/** Findings of these kinds, first of what was measured last. */
const findings = <K extends string>(
  all: readonly {readonly kind: K; readonly text: string}[] | undefined,
  kinds: readonly K[],
  {none, notYet}: {readonly none: string; readonly notYet: string},
): Known => {
  if (!all) return open(notYet);
  const these = all.filter((f) => kinds.includes(f.kind));
  return these.length ? found(these.map((f) => f.text).join(' ')) : fine('nothing found', none);
};

const ofRun =
  (...kinds: MotionFinding['kind'][]): Look['known'] =>
  (_, {run}) =>
    findings(run?.source === 'file' ? undefined : run?.report.findings, kinds, {
      none: 'Nothing of this in the run that is open.',
      notYet: 'No run is open that this craft did: run steps and cuts, or open one that was kept.',
    });

const ofFlight =
  (...kinds: Finding['kind'][]): Look['known'] =>
  (_, {flight: open}) =>
    findings(open?.flight.isDemo ? undefined : open?.summary.report.findings, kinds, {
      none: 'Nothing of this in the flight that is open.',
      notYet: 'No flight is open that this craft flew: drop the log of one on the page.',
    });

const orderAndRotation: Look['known'] = (q) => {
  const {kind, since} = seenStanding(q);
  if (kind === 'current' || kind === 'earlier')
    return fine(
      standingWord[kind],
      `Every motor was seen on its arm, turning the planned way${since && `; ${since}`}.`,
    );
  return open(
    kind === 'void' ? `No longer valid: ${since}.` : 'Not seen yet: hold each output and point at what turns.',
  );
};

const likeThePlan: Look['known'] = ({differences}) => {
  if (!differences) return open('Not read yet: connect and survey.');
  const keys = new Set(differences.parameters.map((d) => d.key)).size;
  const count = keys + differences.firmware.length;
  return count
    ? found(
        `${counted(count, 'thing')} on the ESCs differ from the plan; motors that differ from each other answer differently.`,
      )
    : fine('✓ as planned', 'Every ESC holds what is planned.');
};

const propsAreKnown: Look['known'] = ({craft: {guessed, props}}) =>
  guessed?.includes('airframe')
    ? open('Still as the starting plan guessed them.')
    : fine('✓ entered', `Props ${props}, as it was entered; look whether it is so.`);

const currentWithinLabels: Look['known'] = ({craft: {motor, battery}}, {breaches}) => {
  const these = breaches.filter((f) => packRuleIds.includes(f.id));
  if (these.length) return {tag: 'diff', word: 'predicted', text: these.map((f) => f.meaning).join(' ')};
  if (motor.amps === undefined || battery.amps === undefined)
    return open('Enter the highest currents of motor and pack: nothing is held against them yet.');
  return fine('predicted', 'At full throttle no label is passed.');
};

/** Common practice of the trade, most likely causes first. */
const places: Readonly<Record<Symptom, readonly Look[]>> = {
  'will-not-start': [
    {
      station: 'survey',
      why: 'an ESC that is not there cannot start its motor',
      known: ({record, craft}) => {
        const count = record.found?.escs.length;
        if (count === undefined) return open('Not read yet: connect and survey.');
        return count < craft.arms.length
          ? found(`${count} of ${craft.arms.length} ESCs answer.`)
          : fine('✓ read', 'Every ESC answered when it was read last.');
      },
    },
    {
      station: 'spin',
      why: 'a bad phase, too little start power or a blocked bell show while it starts',
      known: ofRun('never-turned', 'stutter', 'odd-start'),
    },
    {station: 'parameters', why: 'start power and timing that are not what this motor needs', known: likeThePlan},
  ],
  flips: [
    {
      station: 'spin',
      why: 'a motor on another arm, or turning the other way, pushes the craft over',
      known: orderAndRotation,
    },
    {
      station: 'arming',
      why: 'a board that sits otherwise than the controller believes corrects the wrong way',
      known: proof('mounting', 'Not shown yet: tilt the craft as the station says.'),
    },
    {station: 'craft', why: 'propellers in or out decide which way each motor must turn', known: propsAreKnown},
  ],
  yaws: [
    {station: 'spin', why: 'motors that turn the wrong way do not balance each other', known: orderAndRotation},
    {
      station: 'spin',
      why: 'one weak motor takes its share of the balance with it',
      known: proof('motion', 'Not measured yet: run steps and cuts.'),
    },
    {
      station: 'arming',
      why: 'a yaw channel whose centre is off is taken for a stick that is held',
      known: proof('receiver', 'Not shown yet: move the sticks as the station says.'),
    },
  ],
  dips: [
    {
      station: 'noise',
      why: 'a motor that follows throttle late lets its arm down',
      known: ofFlight('long-coast', 'desync'),
    },
    {
      station: 'spin',
      why: 'friction, a worn bearing or other settings make one motor slower than the rest',
      known: ofRun('odd-spool-up', 'odd-coast-down', 'odd-kv', 'odd-friction', 'desync'),
    },
    {station: 'parameters', why: 'one ESC that holds other values than the rest', known: likeThePlan},
  ],
  twitches: [
    {
      station: 'signal',
      why: 'where replies are lost, motor-speed notches stand in the wrong place for a moment',
      known: proof('replies', 'Not measured yet: hold and count lost replies.'),
    },
    {
      station: 'noise',
      why: 'a lost step or lost replies in flight leave their mark in the log',
      known: ofFlight('reply-loss', 'desync', 'electrical'),
    },
    {station: 'spin', why: 'a motor that loses its step under a quick change', known: ofRun('desync', 'stutter')},
  ],
  rough: [
    {
      station: 'noise',
      why: 'a bent bell, something loose or a frame that rings have a frequency of their own',
      known: ofFlight('unbalanced', 'loose', 'resonance'),
    },
    {
      station: 'signal',
      why: 'a wrong pole count puts every motor-speed notch beside its line',
      known: ofFlight('wrong-poles'),
    },
    {station: 'parameters', why: 'timing and PWM that differ between motors sound different', known: likeThePlan},
  ],
  hot: [
    {
      station: 'noise',
      why: 'noise that gets through the filters is chased by the motors as heat',
      known: ofFlight('unbalanced', 'loose', 'resonance', 'wrong-poles'),
    },
    {
      station: 'parameters',
      why: 'PWM frequency, timing and braking decide what is lost in motor and bridge',
      known: likeThePlan,
    },
    {station: 'craft', why: 'current beyond the label of motor, ESC or pack', known: currentWithinLabels},
  ],
  falls: [
    {
      station: 'arming',
      why: 'a fail-safe that acts, or acts too soon',
      known: proof('fail-safe', 'Not tried yet: try the fail-safe, propellers off.'),
    },
    {
      station: 'signal',
      why: 'commands that do not arrive stop a motor',
      known: proof('replies', 'Not measured yet: hold and count lost replies.'),
    },
    {station: 'spin', why: 'a lost step that the ESC does not recover from', known: ofRun('desync', 'never-turned')},
    {
      station: 'noise',
      why: 'the log shows which motor went first',
      known: ofFlight('desync', 'electrical', 'reply-loss'),
    },
  ],
};

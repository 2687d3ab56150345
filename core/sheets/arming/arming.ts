/** What Arming says as a whole: its views, how its proofs stand, and the settings that all of its views read. */
import {angleBetween, matrixOf} from '../../arming/rotation';
import {canonicalJson} from '../../canonical-json';
import type {FailSafe, Mounting, Receiver, Switch} from '../../controller/arming-fields';
import {planOver, type ControllerConfig, type ControllerPlan} from '../../controller/plan';
import type {ProofKind} from '../../proof/proof';
import {standingText} from '../../proof/standing';
import {armingProofs} from '../../route/stations';
import {standingTag, standingWord} from '../../words/standing-words';
import type {Remark} from '../../remark';
import {armedAtRest} from '../armed-at-rest';
import type {Choice} from '../choice';
import type {CraftQuestion, JudgedCraft} from '../craft-question';
import {areOffsetsSet} from './kept-offsets';

export type ArmingView = 'mounting' | 'receiver' | 'switches' | 'fail-safe' | 'loop';

export const armingViews: Choice<ArmingView>[] = [
  {label: 'Mounting', value: 'mounting'},
  {label: 'Receiver', value: 'receiver'},
  {label: 'Switches', value: 'switches'},
  {label: 'Fail-safe', value: 'fail-safe'},
  {label: 'Loop', value: 'loop'},
];

const leads: Readonly<Record<ArmingView, string>> = {
  mounting: 'How the board sits in the craft. Tilt it twice and Bidex finds the angle.',
  receiver: 'Which channel is which stick, whether ends and centre are right, and how steadily frames come.',
  switches: 'What each switch does and where. The craft stays disarmed while Bidex holds it.',
  loop: 'How fast the control loop may run on this chip, and what fills it.',
  'fail-safe': 'What happens when the signal is gone: tried here once, and not in the air.',
};

/** A proof with how it stands. */
interface ArmingProofLine {
  readonly name: string;
  readonly tag: 'ok' | 'diff' | 'wait';
  readonly word: string;
  /** Empty where nothing has to be said beside it. */
  readonly since: string;
}

interface ArmingSheet {
  readonly lead: string;
  readonly proofs: readonly ArmingProofLine[];
  /** What has to be done before anything can be read; undefined where the flight controller is reached. */
  readonly asks: 'other cable' | 'connection' | undefined;
  /** What the motors of an armed craft do at zero throttle. */
  readonly remarks: readonly Remark[];
}

export function armingSheet(q: CraftQuestion, view: ArmingView): ArmingSheet {
  const {standings, bench, record} = q;
  const isReached = bench.isConnected && !!record.found?.controller;
  return {
    lead: leads[view],
    proofs: armingProofs(q, standings).map(({name, standing}) => ({
      ...{name, tag: standingTag[standing.kind], word: standingWord[standing.kind]},
      since: standingText(standing),
    })),
    remarks: armedAtRest(q),
    asks: bench.isConnected && bench.isOnAdapter ? 'other cable' : isReached ? undefined : 'connection',
  };
}

/** Everything that is said of arming where the flight controller does not tell it. */
const usual = {
  mounting: {roll: 0, pitch: 0, yaw: 0},
  receiver: {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0},
  switches: [],
  failSafe: {action: 'drop', afterMs: 400},
} as const satisfies ArmingSettings;

interface ArmingSettings {
  readonly mounting: Mounting;
  readonly receiver: Receiver;
  readonly switches: readonly Switch[];
  readonly failSafe: FailSafe;
}
type ArmingField = keyof ArmingSettings;

interface ArmingConfigs {
  /** As the flight controller was found; undefined before a survey. */
  readonly found: ControllerConfig | undefined;
  /** What will be set: the plan, and where it is silent, what was found. */
  readonly planned: ControllerPlan;
}

export function armingConfigs({plan, record}: JudgedCraft): ArmingConfigs {
  const found = record.found?.controller?.config;
  return {found, planned: planOver(plan.controller, found)};
}

/** A field of arming as it is set and as it will be. */
export function armingField<K extends ArmingField>(q: JudgedCraft, field: K) {
  const {found, planned} = armingConfigs(q);
  const of = (config: Partial<ArmingSettings> | undefined): ArmingSettings[K] => config?.[field] ?? usual[field];
  return {set: of(found), planned: of(planned)};
}

/** Two mountings are one when they turn the board alike within this, degrees: 180° about two axes is 180° about the third. */
const sameDeg = 0.5;

/** The flight controller holds what is planned: what is not written yet cannot be seen in the craft. */
export function isSetAsPlanned(q: JudgedCraft, field: ArmingField): boolean {
  if (field === 'mounting') {
    const {set, planned} = armingField(q, field);
    return angleBetween(matrixOf(set), matrixOf(planned)) < sameDeg;
  }
  const {set, planned} = armingField(q, field);
  return canonicalJson(set) === canonicalJson(planned);
}

const fieldOf: Partial<Record<ProofKind, ArmingField>> = {
  mounting: 'mounting',
  receiver: 'receiver',
  'fail-safe': 'failSafe',
};

/** Whether what is measured now can be kept as a proof: it is of what is set, and that has to be what is planned. */
export function canProve(q: JudgedCraft, kind: ProofKind): boolean {
  const field = fieldOf[kind];
  if (kind === 'level') return isSetAsPlanned(q, 'mounting') && areOffsetsSet(q);
  return field === undefined || isSetAsPlanned(q, field);
}

/** A verdict as it is shown. */
export interface VerdictLine {
  readonly holds: boolean;
  readonly title: string;
  readonly text: string;
}

/** Of what is asked of a person one after the other. */
export interface AskLine {
  readonly text: string;
  readonly state: 'taken' | 'now' | 'to come';
}

/** @param taken how many have been taken; undefined while nothing is asked. */
export const askLines = (texts: readonly string[], taken: number | undefined): AskLine[] =>
  texts.map((text, i) => ({
    text,
    state: taken === undefined || i > taken ? 'to come' : i === taken ? 'now' : 'taken',
  }));

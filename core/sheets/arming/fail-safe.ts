/** What Arming says of a lost signal: what the craft does, what a trial asks of a person, and what it showed. */
import {failSafeSentence, judgeFailSafe} from '../../arming/arming-proofs';
import type {FailSafeTrial, TrialPhase} from '../../arming/fail-safe-trial';
import {spedUpText} from '../../arming/sped-up';
import type {TransmitterBack} from '../../arming/transmitter-back';
import {failSafeActions, type FailSafe} from '../../controller/arming-fields';
import {lockNote} from '../../controller/locks';
import {armName} from '../../craft/arm-name';
import {armingConfigs, armingField, isSetAsPlanned, type VerdictLine} from './arming';
import type {Choice} from '../choice';
import type {CraftQuestion} from '../craft-question';
export type {FailSafe};

/** The trial of now. */
export interface FailSafeNow {
  /** Undefined while none runs. */
  readonly phase: TrialPhase | undefined;
  readonly trial: FailSafeTrial | undefined;
  /** What happened when the transmitter was on again; undefined before. */
  readonly back: TransmitterBack | undefined;
}

interface TrialStep {
  readonly phase: TrialPhase;
  readonly text: string;
  readonly isNow: boolean;
}

interface FailSafeSheet {
  readonly sentence: string;
  /** What is set now and what locks it; empty where it is set as planned. */
  readonly notes: readonly string[];
  readonly actions: Choice<FailSafe['action']>[];
  readonly planned: FailSafe;
  readonly steps: readonly TrialStep[];
  readonly canHold: boolean;
  readonly holdNote: string;
  readonly hasReplies: boolean;
  readonly verdict: VerdictLine | undefined;
  /** Motors that sped up by themselves before; empty where none did. */
  readonly spedUp: string;
  readonly stood: readonly {readonly motor: string; readonly text: string}[];
}

const actionNames: Readonly<Record<FailSafe['action'], string>> = {
  drop: 'Motors off',
  land: 'Down slowly',
  hold: 'On as before',
};

const steps: readonly (readonly [TrialPhase, string])[] = [
  ['starts', 'Hold the button: each motor turns alone once, then all at the planned idle.'],
  ['turns', 'Switch the transmitter off with your other hand.'],
  ['silent', 'Keep holding: the time until every motor has stopped is measured by their replies.'],
  [
    'back',
    'Switch the transmitter on again: the proof is kept once frames come, nothing turns and the craft is disarmed.',
  ],
];

const holdNotes: Readonly<Record<TrialPhase, string>> = {
  starts: 'the motors start',
  turns: 'the motors turn: switch the transmitter off now',
  silent: 'no signal: waiting for every motor to stop',
  back: 'switch the transmitter on again',
};

export function failSafeSheet(q: CraftQuestion, now: FailSafeNow): FailSafeSheet {
  const {phase, trial} = now;
  const {planned} = armingField(q, 'failSafe');
  const config = armingConfigs(q);
  const hasReplies = config.found?.replies === true;
  const {isPropsOff, isOccupied, isRunningOut} = q.bench;
  return {
    sentence: failSafeSentence(planned),
    notes: notesOf(q),
    actions: failSafeActions.map((value) => ({value, label: actionNames[value]})),
    planned,
    steps: steps.map(([of, text]) => ({phase: of, text, isNow: of === phase})),
    canHold: isPropsOff && !isOccupied && hasReplies && !isRunningOut && phase !== 'back',
    holdNote: phase ? holdNotes[phase] : 'all motors at idle, until they have stopped',
    hasReplies,
    verdict: trial && verdictOf(trial, now.back),
    spedUp: spedUpText(trial?.spedUp ?? [], config.planned.poles),
    stood: (trial?.stoodMs ?? []).map((ms, m) => ({
      motor: `motor ${m + 1}, ${armName(q.craft, m)}`,
      text: ms === undefined ? 'still turned' : `${(ms / 1000).toFixed(2)} s after the last frame`,
    })),
  };
}

function notesOf(q: CraftQuestion): string[] {
  if (isSetAsPlanned(q, 'failSafe')) return [];
  const locked = lockNote('failSafe', q.record.found?.controller?.locks);
  return [
    `Planned. As it is set now: ${failSafeSentence(armingField(q, 'failSafe').set)} The work order changes it.`,
    ...(locked ? [`In the flight controller it is ${locked}.`] : []),
    'A trial of now tries what is set; it proves the plan once that is written.',
  ];
}

function verdictOf(trial: FailSafeTrial, back: TransmitterBack | undefined): VerdictLine {
  const verdict = judgeFailSafe(trial, back);
  return {...verdict, title: verdict.holds ? 'They stop in time' : 'They do not stop in time'};
}

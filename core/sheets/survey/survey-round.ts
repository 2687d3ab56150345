/** The guided round of a single-wire adapter: which arm is next, what was read, what stood in the way. */
import {firmwareText} from '../../bench/found';
import {waitForEscMs} from '../../bench/wait-for-esc';
import type {CraftQuestion} from '../craft-question';

interface ArmLine {
  readonly output: number;
  readonly name: string;
  /** "arm 3"; the one ESC without a craft has no number. */
  readonly place: string;
  readonly state: 'read' | 'next' | 'to come' | 'trouble';
  readonly text: string;
}

interface SurveyRound {
  readonly title: string;
  /** One for each arm, in the order of the outputs. */
  readonly arms: readonly ArmLine[];
  /** Arms that were read. */
  readonly read: number;
  /** What a hand does while an ESC is waited for; empty while none is. */
  readonly waits: string;
}

/** What the wire of the adapter says now. */
interface RoundNow {
  /** Seconds left for an ESC to answer. */
  readonly waitingS: number | undefined;
  /** Output whose ESC did not answer in time. */
  readonly nobodyCame: number | undefined;
}

export function surveyRound(q: CraftQuestion, {waitingS, nobodyCame}: RoundNow): SurveyRound {
  const lines = q.craft.arms.map(({name}, output) => ({
    output,
    name,
    place: placeOf(q, output),
    ...armState(q, output, nobodyCame === output),
  }));
  const next = lines.findIndex((line) => line.state === 'to come');
  const read = lines.filter((line) => line.state === 'read').length;
  return {
    title: q.craft.loose
      ? 'On the single-wire adapter'
      : `Round of the single-wire adapter, ${read} of ${lines.length} arms read`,
    arms: lines.map((line, i) => ({
      ...line,
      ...(i === next && {state: 'next' as const}),
      text: line.text || (i === next ? 'next' : 'not read yet'),
    })),
    read,
    waits:
      waitingS === undefined
        ? ''
        : `No ESC answers yet. Clip the adapter on, then connect the battery: ${waitingS} s left.`,
  };
}

const placeOf = ({craft}: CraftQuestion, output: number): string => (craft.loose ? 'the ESC' : `arm ${output + 1}`);

/** @param isLate its ESC was waited for, and did not answer. */
function armState({record: {found}}: CraftQuestion, output: number, isLate: boolean): Pick<ArmLine, 'state' | 'text'> {
  const esc = found?.escs.find((e) => e.output === output);
  if (esc) return {state: 'read', text: `✓ ${firmwareText(esc)}, dialect ${esc.boot.dialect}, ${esc.boot.serial}`};
  const problem = found?.silent.find((s) => s.output === output)?.problem;
  if (problem && problem.code !== 'not-visited')
    return {state: 'trouble', text: `${problem.meaning} ${problem.remedy}`};
  return {
    state: 'to come',
    text: isLate
      ? `No ESC answered within ${waitForEscMs / 1000} s. Nothing was changed; read it when power is at hand.`
      : '',
  };
}

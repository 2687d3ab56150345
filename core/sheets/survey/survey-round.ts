/** The guided round of a single-wire adapter: which arm is next, what was read, what stood in the way. */
import {firmwareText} from '../../bench/found';
import type {CraftQuestion} from '../craft-question';

interface ArmLine {
  readonly output: number;
  readonly name: string;
  readonly state: 'read' | 'next' | 'to come' | 'trouble';
  readonly text: string;
}

interface SurveyRound {
  /** One for each arm, in the order of the outputs. */
  readonly arms: readonly ArmLine[];
  /** Arms that were read. */
  readonly read: number;
}

export function surveyRound(q: CraftQuestion): SurveyRound {
  const lines = q.craft.arms.map(({name}, output) => ({output, name, ...armState(q, output)}));
  const next = lines.findIndex((line) => line.state === 'to come');
  return {
    arms: lines.map((line, i) => (i === next ? {...line, state: 'next', text: 'next'} : line)),
    read: lines.filter((line) => line.state === 'read').length,
  };
}

function armState({record: {found}}: CraftQuestion, output: number): Pick<ArmLine, 'state' | 'text'> {
  const esc = found?.escs.find((e) => e.output === output);
  if (esc) return {state: 'read', text: `✓ ${firmwareText(esc)}, dialect ${esc.boot.dialect}, ${esc.boot.serial}`};
  const problem = found?.silent.find((s) => s.output === output)?.problem;
  if (problem && problem.code !== 'not-visited')
    return {state: 'trouble', text: `${problem.meaning} ${problem.remedy}`};
  return {state: 'to come', text: 'not read yet'};
}

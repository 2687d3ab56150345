/** Parts of a craft that a person may have replaced, and what each of them takes back. */
import type {Part} from '../../bench/replaced';
import type {Craft} from '../../craft/craft';
import {withPartReplaced} from '../../route/craft-record';
import type {RouteQuestion} from '../../route/standings';
import {isProvenLine, signOffSheet, type ProofLine} from '../order/sign-off';

interface ReplaceablePart {
  readonly part: Part;
  /** "Motor 2, rear right" */
  readonly name: string;
}

export function replaceableParts({arms, plan}: Pick<Craft, 'arms' | 'plan'>): ReplaceablePart[] {
  const motors = arms.map((arm, index): ReplaceablePart => {
    const output = plan.controller.arms.indexOf(index);
    return {part: `motor ${index}`, name: `Motor ${(output < 0 ? index : output) + 1}, ${arm.name}`};
  });
  return [...motors, {part: 'controller', name: 'Flight controller'}];
}

/** Proofs that are no longer valid once a part was replaced, by their names at Sign-off. */
export function takenBackBy(part: Part, q: RouteQuestion): string[] {
  const after = linesOf({...q, record: {...q.record, ...withPartReplaced(q.record, part)}});
  const isLost = (line: ProofLine) => !after.some((l) => l.name === line.name && isProvenLine(l));
  return linesOf(q).flatMap((line) => (isProvenLine(line) && isLost(line) ? [line.name] : []));
}

const linesOf = (q: RouteQuestion): readonly ProofLine[] => {
  const {lines, inFlight} = signOffSheet(q);
  return [...lines, ...inFlight];
};

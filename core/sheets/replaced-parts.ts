/** Parts of a craft that a person may have replaced, and what each of them takes back. */
import type {Part} from '../bench/replaced';
import {withPartReplaced} from '../route/craft-record';
import type {RouteQuestion} from '../route/standings';
import {isProvenLine, signOffSheet, type ProofLine} from './sign-off';

export interface ReplaceablePart {
  readonly part: Part;
  /** "Motor 2, rear right" */
  readonly name: string;
  /** Proofs that are no longer valid once it was replaced, by their names at Sign-off. */
  readonly takesBack: readonly string[];
}

export function replaceableParts(q: RouteQuestion): ReplaceablePart[] {
  const proven = linesOf(q).filter(isProvenLine);
  const {arms} = q.craft.plan.controller;
  const motors = q.craft.arms.map((arm, index): Omit<ReplaceablePart, 'takesBack'> => {
    const output = arms.indexOf(index);
    return {part: `motor ${index}`, name: `Motor ${(output < 0 ? index : output) + 1}, ${arm.name}`};
  });
  const parts = [...motors, {part: 'controller' as const, name: 'Flight controller'}];
  return parts.map(({part, name}) => {
    const after = linesOf({...q, record: {...q.record, ...withPartReplaced(q.record, part)}});
    const isLost = (line: ProofLine) => !after.some((l) => l.name === line.name && isProvenLine(l));
    return {part, name, takesBack: proven.filter(isLost).map((l) => l.name)};
  });
}

const linesOf = (q: RouteQuestion): readonly ProofLine[] => {
  const {lines, inFlight} = signOffSheet(q);
  return [...lines, ...inFlight];
};

/** Carries a configuration over to another version of its firmware, by way of its text: one rule for both. */
import type {ControllerConfig, ControllerPlan} from '../plan';
import {carryText, type CarriedLine} from './carry-text';
import {textVersions, type TextVersion} from './entries';
import {pathOf, readText} from './read-text';
import {planFrom} from './rows';
import {writeText} from './write-text';

export interface CarriedConfig {
  /** Fields as the other version takes them: what was there, and nothing that is only its default. */
  readonly fields: Partial<ControllerPlan>;
  /** What became of every line. */
  readonly report: readonly CarriedLine[];
}

/** The newest version whose places Bidex knows and that is not newer than `version`; the oldest where all are newer. */
export const textVersionOf = (version: string): TextVersion =>
  textVersions.findLast((v) => Number.parseFloat(v) <= Number.parseFloat(version)) ?? textVersions[0];

export function carryConfig(config: ControllerConfig, from: string, to: string): CarriedConfig {
  const [was, is] = [textVersionOf(from), textVersionOf(to)];
  const about = {firmware: 'Plumb', version: was, board: '', chip: ''};
  const carried = carryText(readText(writeText(config, about, was)), is);
  const fresh = new Set(carried.report.flatMap((l) => (l.fate === 'new' ? [l.to] : [])));
  const lines = readText(carried.text).lines.filter((l) => !fresh.has(pathOf(l)));
  return {fields: planFrom(lines, is, config), report: carried.report};
}

/** What Parameters says of a craft: every parameter's plan against the values found, motor by motor. */
import {plannedFor, type Craft, type PlannedValue} from '../../craft/craft';
import {plannedFirmware, variantOf} from '../../craft/motor-firmware';
import {unavailableReason} from '../../settings/availability';
import {parameterGroups, type LayoutRevision, type ParameterDefinition} from '../../settings/definitions';
import {judgeParameter, type Verdict} from '../../compare/difference';
import type {Found} from '../../bench/found';
import type {Finding} from '../../compare/rules/rule';
import {motorList} from '../../words/motor-list';
import type {CraftQuestion} from '../craft-question';

export interface ParameterRow {
  readonly definition: ParameterDefinition;
  readonly planned: PlannedValue | undefined;
  /** Value found per motor. */
  readonly values: readonly (number | undefined)[];
  /** Planned value per motor. */
  readonly wanted: readonly (number | undefined)[];
  readonly verdict: Verdict;
  /** Why it cannot be set in the firmware, and what would unlock it. */
  readonly unavailable: string | undefined;
  /** Rules the plan breaks that name this parameter. */
  readonly findings: readonly Finding[];
}

interface GroupOfRows {
  readonly name: string;
  readonly rows: readonly ParameterRow[];
  readonly differing: number;
}

export interface ParametersSheet {
  readonly groups: readonly GroupOfRows[];
  /** Lines that differ from the plan. */
  readonly differing: number;
  readonly motors: number;
  /** Nothing planned yet, but something found to begin with. */
  readonly canBegin: boolean;
}

/** What the plan's ESCs are and which rules it breaks: both judged with the images of the shelf. */
interface JudgedPlan {
  /** Settings layout of the planned firmware, or of what was found while its image is not at hand. */
  readonly layout: LayoutRevision | undefined;
  readonly findings: readonly Finding[];
}

export function parametersSheet({craft, record}: CraftQuestion, judged: JudgedPlan): ParametersSheet {
  const {found} = record;
  const groups = groupRows({craft, found, ...judged});
  return {
    ...{groups, motors: craft.arms.length, differing: groups.reduce((sum, g) => sum + g.differing, 0)},
    canBegin: !!found?.escs.length && !Object.keys(craft.plan.parameters).length,
  };
}

interface RowsQuestion extends JudgedPlan {
  readonly craft: Craft;
  readonly found: Found | undefined;
}

export const isDiffering = ({verdict}: ParameterRow): boolean =>
  verdict.kind === 'differs' || verdict.kind === 'moves together';

export function groupRows(question: RowsQuestion): GroupOfRows[] {
  return parameterGroups.map(({name, parameters}) => {
    const rows = parameters.map((definition) => rowOf(definition, question));
    return {name, rows, differing: rows.filter(isDiffering).length};
  });
}

function rowOf(definition: ParameterDefinition, {craft, found, layout, findings}: RowsQuestion): ParameterRow {
  const {key} = definition;
  const outputs = craft.arms.map((_, output) => output);
  const planned = craft.plan.parameters[key];
  const builds = key === 'pwm' ? outputs.map((o) => plannedFirmware(craft.plan, o).pwmKhz) : [];
  const isBuiltIn = builds.some((khz) => khz !== undefined);
  const held = (output: number) => {
    const esc = found?.escs.find((e) => e.output === output);
    return esc?.settings?.values[key] ?? (key === 'pwm' ? esc?.identity?.pwmKhz : undefined);
  };
  return {
    definition,
    planned,
    values: outputs.map(held),
    wanted: outputs.map((o) => (isBuiltIn ? builds[o] : plannedFor(planned, o))),
    verdict: isBuiltIn && found ? builtIn(builds, outputs.map(held)) : judgeParameter(definition, craft, found),
    unavailable: layout === undefined ? undefined : unavailableReason(definition, layout, variantOf(craft, 0)),
    findings: findings.filter((f) => f.keys.includes(key)),
  };
}

/** PWM that is built into the image: it changes with the firmware, not with a parameter. */
function builtIn(builds: readonly (number | undefined)[], held: readonly (number | undefined)[]): Verdict {
  const others = held.flatMap((khz, output) =>
    khz !== undefined && builds[output] !== undefined && khz !== builds[output] ? [output] : [],
  );
  const each = (outputs: readonly number[], of: readonly (number | undefined)[]) =>
    [...new Set(outputs.flatMap((output) => of[output] ?? []))].join(' and ');
  const planned = each(others.length ? others : [...builds.keys()], builds);
  if (!others.length) return {kind: 'not planned', text: `comes with the image, ${planned} kHz planned`};
  return {
    kind: 'moves together',
    text: `${motorList(others, held.length)}: ${each(others, held)} → ${planned} kHz, with the image`,
  };
}

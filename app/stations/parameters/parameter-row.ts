/** What one line of the Parameters station shows. */
import {plannedFor, type Craft, type PlannedValue} from '@core/craft/craft';
import {unavailableReason} from '@core/settings/availability';
import {parameterGroups, type LayoutRevision, type ParameterDefinition} from '@core/settings/definitions';
import {judgeParameter, type Verdict} from '@core/compare/difference';
import type {Found} from '@core/bench/found';
import type {Finding} from '@core/compare/rules/rule';

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

export interface GroupOfRows {
  readonly name: string;
  readonly rows: readonly ParameterRow[];
  readonly differing: number;
}

export interface RowsQuestion {
  readonly craft: Craft;
  readonly found: Found | undefined;
  readonly layout: LayoutRevision | undefined;
  readonly findings: readonly Finding[];
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
  const {pwmKhz} = craft.plan.firmware;
  const isBuiltIn = key === 'pwm' && pwmKhz !== undefined;
  const held = (output: number) => {
    const esc = found?.escs.find((e) => e.output === output);
    return esc?.settings?.values[key] ?? (key === 'pwm' ? esc?.identity?.pwmKhz : undefined);
  };
  return {
    definition,
    planned,
    values: outputs.map(held),
    wanted: outputs.map((o) => (isBuiltIn ? pwmKhz : plannedFor(planned, o))),
    verdict: isBuiltIn && found ? builtIn(pwmKhz) : judgeParameter(definition, craft, found),
    unavailable: layout === undefined ? undefined : unavailableReason(definition, layout),
    findings: findings.filter((f) => f.keys.includes(key)),
  };
}

const builtIn = (pwmKhz: number): Verdict => ({
  kind: 'not planned',
  text: `comes with the image, ${pwmKhz} kHz planned`,
});

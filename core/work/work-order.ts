/** From plan and found to a work order: ordered steps with reasons and time. */
import {plannedFor, type ControllerPlan, type Craft, type Plan} from '../craft/craft';
import {findChip, pageWriteMs} from '../firmware/chips';
import {judgeFit} from '../firmware/fit';
import {checkApplication} from '../firmware/identity';
import {flatten, type Image} from '../firmware/image';
import {planPages} from '../firmware/page-plan';
import type {Release} from '../firmware/releases';
import {failure, success, type Result} from '../problem';
import {isLayoutRevision, type LayoutRevision, type ParameterKey} from '../settings/definitions';
import {carryOver} from '../settings/carry-over';
import {defaultSettings, type Settings} from '../settings/page';
import {
  controllerFields,
  describeChanges,
  findDifferences,
  motorList,
  type Differences,
  type ParameterDifference,
} from './difference';
import type {Found, FoundEsc} from './found';

interface StepText {
  readonly id: string;
  readonly title: string;
  readonly note: string;
  /** Estimated time, ms. */
  readonly estimateMs: number;
}

/** An ESC as a step addresses it: by output, and by chip serial so that a swapped plug is noticed. */
export interface StepTarget {
  readonly output: number;
  readonly serial: string;
}

export type Step =
  | (StepText & {readonly kind: 'snapshot'})
  | (StepText & {
      readonly kind: 'write-firmware';
      readonly target: StepTarget;
      readonly pages: number;
      readonly equal: number;
    })
  | (StepText & {readonly kind: 'cycle-battery'})
  | (StepText & {
      readonly kind: 'set-parameters';
      readonly layout: LayoutRevision;
      readonly targets: readonly (StepTarget & {readonly values: Settings})[];
      readonly changes: readonly {readonly title: string; readonly note: string}[];
    })
  | (StepText & {
      readonly kind: 'set-controller';
      readonly config: ControllerPlan;
      readonly changes: readonly {readonly title: string; readonly note: string}[];
    })
  | (StepText & {readonly kind: 'prove-pages'; readonly targets: readonly StepTarget[]})
  | (StepText & {readonly kind: 'prove-settings'})
  | (StepText & {readonly kind: 'prove-replies'; readonly outputs: number; readonly poles: number});

export type StepKind = Step['kind'];
/** Steps a person has a part in. */
export const isForPerson = (step: Step): boolean => step.kind === 'cycle-battery' || step.kind === 'prove-replies';

export interface WorkOrder {
  readonly id: string;
  readonly craftId: string;
  readonly createdAt: number;
  readonly plan: Plan;
  readonly found: Found;
  /** SHA-256 of the image file, when the order writes firmware or proves pages. */
  readonly imageSha256: string | undefined;
  readonly steps: readonly Step[];
}

export interface OrderQuestion {
  readonly id: string;
  readonly at: number;
  readonly craft: Craft;
  readonly found: Found;
  /** The release of the planned firmware and its image; undefined when the shelf does not hold it. */
  readonly firmware: {readonly release: Release; readonly image: Image} | undefined;
}

/** Builds the order, or says why there is none. An order without steps means: nothing to do. */
export function buildWorkOrder(question: OrderQuestion): Result<WorkOrder> {
  const {craft, found, firmware} = question;
  const refuse = (code: string, place: string, meaning: string, remedy: string) =>
    failure({code, place, meaning, remedy});
  const differences = findDifferences(craft.plan, found);
  if (found.escs.length + found.silent.length !== craft.arms.length)
    return refuse(
      'output-count',
      'bench',
      `The bench has ${found.escs.length + found.silent.length} outputs, the craft ${craft.arms.length} arms.`,
      'Connect the right craft, or mend its data.',
    );
  const silent = found.silent[0];
  if (silent) return refuse('silent-esc', `motor ${silent.output + 1}`, silent.problem.meaning, silent.problem.remedy);
  const unknown = found.escs.find((esc) => !esc.hardware);
  if (unknown)
    return refuse(
      'unknown-board',
      `motor ${unknown.output + 1}`,
      'Nothing tells its board: it holds no application and no earlier survey knew it.',
      'Resume the work order that wrote it last.',
    );
  if (differences.firmware.length && !firmware)
    return refuse(
      'no-image',
      'shelf',
      `The image of ${differences.firmware[0]!.to} is not at hand.`,
      'Load the releases on the Firmware station.',
    );
  if (firmware && differences.firmware.length)
    for (const {output} of differences.firmware) {
      const fit = judgeFit({
        hardware: found.escs[output]!.hardware!,
        image: firmware.image,
        wantsReplies: craft.plan.controller.replies,
        standing: firmware.release.standing,
      });
      const reason = fit.reasons.find((r) => r.verdict === 'refused');
      if (reason)
        return refuse('no-fit', `motor ${output + 1}`, reason.text, 'Choose another image on the Firmware station.');
    }
  const steps = planSteps(question, differences);
  return success({
    id: question.id,
    craftId: craft.id,
    createdAt: question.at,
    plan: craft.plan,
    found,
    imageSha256: firmware?.release.sha256,
    steps,
  });
}

function planSteps({craft, found, firmware}: OrderQuestion, differences: Differences): Step[] {
  const {plan} = craft;
  const all = found.escs.length;
  const steps: Step[] = [];
  if (firmware) steps.push(...firmwareSteps(found, firmware.image, differences));
  const writes = steps.length > 0;
  if (writes)
    steps.push({
      id: 'cycle',
      kind: 'cycle-battery',
      title: 'Cycle the battery',
      note: 'you, when asked',
      estimateMs: 8_000,
    });
  const layout = targetLayout(found, firmware?.image, writes);
  const planned = layout === undefined ? [] : targetSettings(plan, found, layout);
  const changes = layout === undefined ? [] : settingsChanges(planned, found);
  const changed = planned.filter((p) => changes.some((c) => c.output === p.output) || writes);
  if (layout !== undefined && changed.length)
    steps.push({
      id: 'parameters',
      kind: 'set-parameters',
      title: writes ? 'Carry settings over' : 'Set parameters',
      note: writes
        ? `to layout ${layout}, then the plan on top, ${motorList(
            changed.map((c) => c.output),
            all,
          )}`
        : motorList(
            changed.map((c) => c.output),
            all,
          ),
      layout,
      targets: changed,
      changes: describeChanges(changes, all),
      estimateMs: changed.reduce((sum, t) => sum + pageWriteMs(findChip(found.escs[t.output]!.boot.chip)!) + 700, 0),
    });
  if (differences.controller.length)
    steps.push({
      id: 'controller',
      kind: 'set-controller',
      title: 'Set the flight controller',
      note: `${differences.controller.length} ${differences.controller.length === 1 ? 'field' : 'fields'}, saved, then restarted`,
      config: plan.controller,
      changes: differences.controller.map((d) => ({
        title: `${controllerFields.find((f) => f.field === d.field)!.name} ${d.from} → ${d.to}`,
        note: 'flight controller',
      })),
      estimateMs: 1_500,
    });
  if (!steps.length) return [];
  steps.unshift({
    id: 'snapshot',
    kind: 'snapshot',
    title: 'Take a snapshot',
    note: `${all} ESCs and the flight controller`,
    estimateMs: all * 1_200,
  });
  const targets = found.escs.map(({output, boot}) => ({output, serial: boot.serial}));
  if (firmware)
    steps.push({
      id: 'prove-pages',
      kind: 'prove-pages',
      title: 'Prove the firmware',
      note: 'checksum of every page, all motors',
      targets,
      estimateMs: all * 600,
    });
  steps.push({
    id: 'prove-settings',
    kind: 'prove-settings',
    title: 'Prove the settings',
    note: 'read back every setting, compare with the plan',
    estimateMs: all * 1_200,
  });
  if (plan.controller.replies)
    steps.push({
      id: 'prove-replies',
      kind: 'prove-replies',
      title: 'Prove the replies',
      note: 'you hold: idle, 30 % and 60 %, 2 s each',
      outputs: all,
      poles: plan.controller.poles,
      estimateMs: 9_000,
    });
  return steps;
}

function firmwareSteps(found: Found, image: Image, differences: Differences): Step[] {
  const behind = new Set(differences.firmware.map((d) => d.output));
  const title = `Write ${differences.firmware[0]?.to ?? ''}`;
  return found.escs
    .filter((esc) => behind.has(esc.output))
    .map((esc): Step => {
      const plan = planPages(findChip(esc.boot.chip)!, image, esc.pageCrcs);
      return {
        id: `write-${esc.output}`,
        kind: 'write-firmware',
        title,
        note: `motor ${esc.output + 1}: ${plan.toWrite.length} of ${plan.image.length} pages differ`,
        target: {output: esc.output, serial: esc.boot.serial},
        pages: plan.toWrite.length,
        equal: plan.equalCount,
        estimateMs: plan.estimateMs,
      };
    });
}

function targetLayout(found: Found, image: Image | undefined, writes: boolean): LayoutRevision | undefined {
  const first = found.escs[0];
  if (!first) return undefined;
  const chip = findChip(first.boot.chip)!;
  const identity = writes && image ? checkApplication(flatten(image, chip.application)) : undefined;
  const layout = identity?.ok ? identity.value.layoutRevision : first.identity?.layoutRevision;
  return layout !== undefined && isLayoutRevision(layout) ? layout : undefined;
}

/** What each ESC should hold: what it held, carried over, with the plan on top. */
function targetSettings(plan: Plan, found: Found, layout: LayoutRevision) {
  return found.escs.map((esc) => {
    const base: Settings = esc.settings ? carryOver(esc.settings, layout).values : defaultSettings(layout);
    const values: Partial<Record<ParameterKey, number>> = {...base};
    for (const key of Object.keys(base) as ParameterKey[]) {
      const wanted = plannedFor(plan.parameters[key], esc.output);
      if (wanted !== undefined) values[key] = wanted;
    }
    return {output: esc.output, serial: esc.boot.serial, values};
  });
}

function settingsChanges(planned: readonly {output: number; values: Settings}[], found: Found): ParameterDifference[] {
  return planned.flatMap(({output, values}) => {
    const before: FoundEsc | undefined = found.escs.find((e) => e.output === output);
    return (Object.keys(values) as ParameterKey[]).flatMap((key) => {
      const from = before?.settings?.values[key];
      const to = values[key]!;
      return from === to ? [] : [{key, output, from, to}];
    });
  });
}

export const orderEstimateMs = (order: WorkOrder): number =>
  order.steps.reduce((sum, step) => sum + step.estimateMs, 0);

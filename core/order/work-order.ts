/** From plan and found to a work order: ordered steps with reasons and time. */
import {plannedMelody} from '../craft/craft';
import {holdsImage, isPlannedBack} from '../firmware/plan/kept-application';
import {plannedFirmware} from '../craft/motor-firmware';
import {withWholePlan} from '../craft/whole-plan';
import {codableMelody} from '../sounds/melody-block';
import type {Craft, Plan} from '../craft/craft';
import {failure, success, type Problem, type Result} from '../problem';
import {firmwareName} from '../firmware/plan/firmware-plan';
import {firmwareText, type Found, type FoundEsc} from '../bench/found';
import type {Release} from '../firmware/releases';
import {equalSerialFindings} from '../compare/rules/equal-serials';
import {controllerWork, type ControllerImage} from './controller-work';
import {escWork} from './esc-work';
import type {PlanQuestion, StepMeaning, StepMeanings} from './step-kind';
import {fitOf, type OrderEsc} from '../compare/esc-firmware';
import {identityOf} from '../firmware/plan/planned-image';
import type {ImageFor} from '../firmware/plan/planned-image';
import {judgePlan, plannedEsc} from '../compare/rules/judge-plan';
import {heldNow, type BoardRating, type Finding} from '../compare/rules/rule';
import type {MeasuredBefore} from '../proof/standing';
import type {Sighting} from '../spin/sighting/sighting';
import type {Step, StepKind} from './steps';

export interface LeftOut {
  readonly output: number;
  readonly problem: Problem;
}

export interface WorkOrder {
  readonly id: string;
  readonly craftId: string;
  readonly createdAt: number;
  readonly plan: Plan;
  /** Cells of the battery it was made for. */
  readonly cells: number;
  readonly found: Found;
  /** ESCs this order does not touch, with the reason; they stay open. */
  readonly leftOut: readonly LeftOut[];
  /** Steps a person left out; they stay open. */
  readonly leftSteps?: readonly StepKind[];
  /** Rules the plan breaks that do not stop the work, with the consequence. */
  readonly warnings?: readonly Finding[];
  /** Set on an order that puts back what another one changed. */
  readonly rollsBack?: string;
  /** What a roll-back leaves as it is, with the reason and the way to it. */
  readonly stays?: readonly Problem[];
  readonly steps: readonly Step[];
}

export interface OrderQuestion {
  readonly id: string;
  readonly at: number;
  readonly craft: Craft;
  readonly found: Found;
  /** The planned image for a board, or undefined when it is not at hand. */
  readonly imageFor: ImageFor;
  /** Outputs whose planned image is written again in full although it is there: the safe re-write. */
  readonly rewrite?: readonly number[];
  /** Outputs a person leaves out: they stay listed as open. */
  readonly leave?: readonly number[];
  /** Kinds of step a person leaves out: what they would have done stays listed as open. */
  readonly leaveSteps?: readonly StepKind[];
  /** The image planned for the flight controller, where it is at hand. */
  readonly controllerImage?: ControllerImage | undefined;
  /** What was seen turning at the Spin station. */
  readonly sightings?: readonly Sighting[];
  /** What was measured of this craft before, whatever came out: what the order takes away is measured again. */
  readonly measured?: readonly MeasuredBefore[];
  /** What the ESC boards of the craft are rated for, where it is known. */
  readonly board?: BoardRating | undefined;
  /** What the catalogue says of published firmware. */
  readonly releases?: readonly Release[] | undefined;
}

/** Builds the order of `kinds`, or says why there is none. An order without steps means: nothing to do. */
export function buildWorkOrder(question: OrderQuestion, kinds: StepMeanings): Result<WorkOrder> {
  const craft = withWholePlan(question.craft);
  return melodyRefusal(craft) ?? build({...question, craft}, kinds);
}

/** A planned melody that no ESC can keep is refused before anything is written; undefined where there is none. */
function melodyRefusal({plan, arms}: OrderQuestion['craft']): Result<WorkOrder> | undefined {
  for (const motor of arms.keys()) {
    const text = plannedMelody(plan, motor);
    const coded = text === undefined ? undefined : codableMelody(text);
    if (coded && !coded.ok) return coded;
  }
  return undefined;
}

function build(question: OrderQuestion, kinds: StepMeanings): Result<WorkOrder> {
  const {craft, found, leaveSteps = [], measured = []} = question;
  const outputs = found.escs.length + found.silent.length;
  if (outputs !== craft.arms.length) return otherCount(outputs, craft.arms.length);
  const leftOut = leftOutOf(question);
  const ready = found.escs.filter((e) => !leftOut.some((l) => l.output === e.output));
  const work = controllerWork(question);
  if (!work.ok) return work;
  // Behind a flight controller that cannot pass through, its own firmware comes first and alone.
  if (!ready.length && !work.value?.isFirst) return failure(leftOut[0]!.problem);
  const taken = takeEscs(question, ready);
  if (!taken.ok) return taken;
  const escs = taken.value;
  const findings = judged(question, escs);
  const [refused] = findings.filter((f) => f.severity === 'refuse');
  if (refused) return refuse(`rule-${refused.id}`, refused.place, refused.meaning, refused.remedy);
  const planned = (leave: readonly StepKind[]) => {
    const works = escs.map((esc) => escWork(craft, leave, esc));
    const controller = leave.includes('write-controller') ? undefined : work.value;
    return planSteps(
      {craft, found, works, controllerWork: controller, leftOut: leftOut.length > 0, leaveSteps: leave, measured},
      kinds,
    );
  };
  const all = planned([]);
  return success({
    id: question.id,
    craftId: craft.id,
    createdAt: question.at,
    plan: craft.plan,
    cells: craft.battery.cells,
    found,
    leftOut,
    leftSteps: leaveSteps.filter((kind) => all.some((step) => step.kind === kind)),
    warnings: [...equalSerialFindings(found, craft.arms.length), ...findings],
    steps: leaveSteps.length ? planned(leaveSteps) : all,
  });
}

/** Every kind's steps in their safe order; none where nothing is to be changed. */
function planSteps(question: PlanQuestion, kinds: StepMeanings): readonly Step[] {
  const all = inPlace(
    kinds.all.flatMap((kind) => kind.plan(question)),
    question,
    kinds,
  );
  const touched = new Set(
    all.flatMap((step) =>
      kinds
        .of(step)
        .touches(step)
        .map(({of}) => of),
    ),
  );
  const isWanted = (kind: StepMeaning) => kind.onlyWith?.(question)?.some((part) => touched.has(part)) ?? true;
  return touched.size ? all.filter((step) => isWanted(kinds.of(step))) : [];
}

/** Steps that may go later do: to just before those of the kind they name. */
function inPlace(steps: readonly Step[], question: PlanQuestion, kinds: StepMeanings): readonly Step[] {
  return kinds.all.reduce<readonly Step[]>((all, meaning) => {
    const before = meaning.before?.(question);
    const at = all.findIndex((s) => s.kind === before);
    const own = all.filter((s) => s.kind === meaning.kind);
    if (at < 0 || !own.length) return all;
    const rest = (some: readonly Step[]) => some.filter((s) => s.kind !== meaning.kind);
    return [...rest(all.slice(0, at)), ...own, ...rest(all.slice(at))];
  }, steps);
}

/** ESCs that the order does not touch, by output. */
function leftOutOf({found, leave}: OrderQuestion): LeftOut[] {
  const left = found.escs.flatMap(({output, hardware}): LeftOut[] => {
    if (leave?.includes(output)) return [{output, problem: leftByPerson(output)}];
    return hardware ? [] : [{output, problem: unknownBoard(output)}];
  });
  return [...found.silent, ...left].sort((a, b) => a.output - b.output);
}

/** The plan held against its rules, on the firmware that will run. */
function judged(
  {craft, found, leaveSteps, sightings, board, releases}: OrderQuestion,
  escs: readonly OrderEsc[],
): readonly Finding[] {
  const isWritten = !leaveSteps?.includes('write-firmware');
  return judgePlan({
    craft,
    escs: escs.map((e) => plannedEsc(craft, isWritten ? e : {...e, identity: undefined})),
    sightings: sightings ?? [],
    processor: found.controller?.identity,
    held: heldNow(found),
    board,
    releases,
  });
}

/** Every ESC with its images, or the first reason against one. */
function takeEscs(question: OrderQuestion, ready: readonly FoundEsc[]): Result<readonly OrderEsc[]> {
  const escs: OrderEsc[] = [];
  for (const esc of ready) {
    const taken = takeEsc(question, esc);
    if (!taken.ok) return taken;
    escs.push(taken.value);
  }
  return success(escs);
}

function takeEsc({craft, found, imageFor, rewrite, leaveSteps}: OrderQuestion, esc: FoundEsc): Result<OrderEsc> {
  const hardware = esc.hardware!;
  const planned = plannedFirmware(craft.plan, esc.output);
  const wanted = firmwareName(planned);
  const on = {output: esc.output, hardware};
  const base = imageFor(on, 'base');
  const module = planned.module === undefined ? undefined : imageFor(on, 'module');
  const identity = base && identityOf(base.image, hardware.chip, 'base');
  const otherBytes =
    base && isPlannedBack(planned)
      ? !holdsImage(esc, base)
      : identity !== undefined && esc.identity !== undefined && identity.bodyCrc32 !== esc.identity.bodyCrc32;
  const behind = firmwareText(esc) !== wanted || otherBytes;
  const again = rewrite?.includes(esc.output) ?? false;
  const place = `motor ${esc.output + 1}`;
  // Without writing, no image is needed.
  if ((behind || again) && !leaveSteps?.includes('write-firmware')) {
    if (!base || (planned.module !== undefined && !module))
      return refuse(
        'no-image',
        'shelf',
        `The image of ${wanted} for ${hardware.board} is not at hand.`,
        'Load the releases on the Shelf, or plan another firmware.',
      );
    for (const [image, part] of [
      [base, 'base'],
      [module, 'module'],
    ] as const) {
      const reason =
        image &&
        fitOf({craft, found, esc, planned: image, part, identity}).reasons.find((r) => r.verdict === 'refused');
      if (reason) return refuse('no-fit', place, reason.text, 'Choose another image on the Firmware station.');
    }
  }
  return success({esc, base, module, identity, behind, rewrite: again});
}

const refuse = (code: string, place: string, meaning: string, remedy: string) =>
  failure({code, place, meaning, remedy});

const otherCount = (outputs: number, arms: number) =>
  refuse(
    'output-count',
    'bench',
    `The bench has ${outputs} outputs, the craft ${arms} arms.`,
    'Connect the right craft, or mend its data.',
  );

const leftByPerson = (output: number): Problem => ({
  code: 'left-out',
  place: `motor ${output + 1}`,
  meaning: 'You skipped it in this order.',
  remedy: 'Take it in again on the Firmware station when it is to be worked on.',
});

const unknownBoard = (output: number): Problem => ({
  code: 'unknown-board',
  place: `motor ${output + 1}`,
  meaning: 'Its board is unknown: it holds no firmware of ours and no earlier survey identified it.',
  remedy: 'On the Firmware station, find the board in the catalogue and confirm it.',
});

export const orderEstimateMs = (order: WorkOrder): number =>
  order.steps.reduce((sum, step) => sum + step.estimateMs, 0);

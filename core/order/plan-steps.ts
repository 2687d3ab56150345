/** The steps of an order, in their safe order. */
import type {Craft, Plan} from '../craft/craft';
import {findChip, pageWriteMs} from '../firmware/chips';
import type {ParameterKey} from '../settings/definitions';
import {describeChanges, findDifferences, type ParameterDifference} from '../compare/difference';
import {motorList} from '../craft/motor-list';
import {hasModuleRest, type Found, type FoundEsc} from '../bench/found';
import type {ImageToWrite, LeavableStep, ProvenTarget, SettingsTarget, Step} from './steps';
import {controllerStep, cycleStep, imageToWrite, writeStep} from './shared-steps';
import type {OrderEsc} from '../compare/esc-firmware';
import {targetLayout, targetSettings} from '../compare/target-settings';

export interface StepsQuestion {
  readonly craft: Craft;
  readonly found: Found;
  /** ESCs the order works on. */
  readonly escs: readonly OrderEsc[];
  /** Whether some ESC of the craft is not among them. */
  readonly leftOut: boolean;
  /** Kinds of step a person leaves out. */
  readonly leaveSteps: readonly LeavableStep[];
}

/** What the order does to one ESC. */
interface EscWork {
  readonly order: OrderEsc;
  readonly writes: readonly ImageToWrite[];
  readonly settings: SettingsTarget | undefined;
  readonly changes: readonly ParameterDifference[];
}

export function planSteps(question: StepsQuestion): Step[] {
  const works = question.escs.map((order) => escWork(question, order));
  return question.found.road === 'single-wire' ? visitSteps(question, works) : throughController(question, works);
}

function escWork({craft: {plan}, leaveSteps}: StepsQuestion, order: OrderEsc): EscWork {
  const isLeft = leaveSteps.includes('write-firmware');
  const writes = (order.behind || order.rewrite) && !isLeft ? imagesToWrite(order) : [];
  const {esc} = order;
  const layout = targetLayout(order, writes.length > 0);
  if (layout === undefined) return {order, writes, settings: undefined, changes: []};
  // Settings are carried over even when the plan on top is left out: an update never loses them.
  const parameters = leaveSteps.includes('set-parameters') ? {} : plan.parameters;
  const values = targetSettings({...plan, parameters}, esc, layout);
  const changes = (Object.keys(values) as ParameterKey[]).flatMap((key): ParameterDifference[] => {
    const from = esc.settings?.values[key];
    const to = values[key]!;
    return from === to ? [] : [{key, output: esc.output, from, to}];
  });
  const settings: SettingsTarget | undefined =
    changes.length || writes.length ? {output: esc.output, serial: esc.boot.serial, layout, values} : undefined;
  return {order, writes, settings, changes};
}

/** Base first, module second. Writing the base takes a module away, so a planned one is written again behind it. */
function imagesToWrite({esc, base, module, rewrite}: OrderEsc): ImageToWrite[] {
  const wish = {rewrite, clearsModule: !module && (esc.module !== undefined || hasModuleRest(esc))};
  const first = base && imageToWrite(esc, base, {...wish, part: 'base', known: esc.pageCrcs});
  const known = first?.pages ? [] : esc.pageCrcs;
  const second = module && imageToWrite(esc, module, {...wish, part: 'module', known});
  return [first, second].filter((w) => w !== undefined && w.pages > 0) as ImageToWrite[];
}

function throughController(
  {craft, found, escs, leftOut, leaveSteps}: StepsQuestion,
  works: readonly EscWork[],
): Step[] {
  const {plan} = craft;
  const all = craft.arms.length;
  const outputs = escs.map((e) => e.esc.output);
  const steps: Step[] = works.flatMap(writeSteps);
  const writes = steps.length > 0;
  if (writes) steps.push(cycleStep);
  const controller = controllerSteps(plan, found);
  const isControllerLeft = leaveSteps.includes('set-controller');
  steps.push(...parameterSteps(works, all, writes), ...(isControllerLeft ? [] : controller));
  if (!steps.length) return [];
  steps.unshift({
    id: 'snapshot',
    kind: 'snapshot',
    title: 'Take a snapshot',
    note: `${outputs.length} ESCs and the flight controller`,
    outputs,
    estimateMs: Math.max(...escs.map((e) => surveyMs(e.esc))),
  });
  const proven = leaveSteps.includes('write-firmware')
    ? []
    : works.map(provenTarget).filter((t) => t.images.length > 0);
  if (proven.length)
    steps.push({
      id: 'prove-pages',
      kind: 'prove-pages',
      title: 'Prove the firmware',
      note: `every page read or checksummed, ${motorList(outputs, all)}`,
      targets: proven,
      estimateMs: Math.max(...escs.map((e) => surveyMs(e.esc))),
    });
  steps.push({
    id: 'prove-settings',
    kind: 'prove-settings',
    title: 'Prove the settings',
    note: 'read back every setting, compare with the plan',
    outputs,
    estimateMs: Math.max(...escs.map((e) => surveyMs(e.esc))),
  });
  // Replies can be proven when nothing that makes them was left out.
  const isMade = !(controller.length && isControllerLeft) && !leaveSteps.includes('write-firmware');
  if (plan.controller.replies && !leftOut && isMade && !leaveSteps.includes('prove-replies'))
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

function writeSteps({order: {esc}, writes}: EscWork): Step[] {
  const loses = esc.module && writes[0]?.part === 'base';
  return writes.map((write): Step => {
    const {part, image, pages, equal} = write;
    const takes = loses && part === 'base' ? '; takes the reply module away' : '';
    const again = write.rewrite ? ', all written again' : ` of ${pages + equal} pages differ`;
    const note = `motor ${esc.output + 1}: ${pages}${write.rewrite ? ' pages' : ''}${again}${takes}`;
    return writeStep(esc, write, {title: `Write ${image.name}`, note});
  });
}

function parameterSteps(works: readonly EscWork[], all: number, writes: boolean): Step[] {
  const targets = works.flatMap((w) => (w.settings ? [w.settings] : []));
  if (!targets.length) return [];
  const outputs = targets.map((t) => t.output);
  const layouts = [...new Set(targets.map((t) => t.layout))].join(' and ');
  return [
    {
      id: 'parameters',
      kind: 'set-parameters',
      title: writes ? 'Carry settings over' : 'Set parameters',
      note: `${writes ? `to layout ${layouts}, then the plan on top, ` : ''}${motorList(outputs, all)}`,
      targets,
      changes: describeChanges(
        works.flatMap((w) => w.changes),
        all,
      ),
      estimateMs: works.reduce((sum, w) => sum + (w.settings ? settingsMs(w.order.esc) : 0), 0),
    },
  ];
}

function controllerSteps(plan: Plan, found: Found): Step[] {
  return controllerStep('Set the flight controller', plan.controller, findDifferences(plan, found).controller);
}

/** One visit per arm that has work, then one battery cycle for all. */
function visitSteps({craft, leaveSteps}: StepsQuestion, works: readonly EscWork[]): Step[] {
  const visits = works
    .filter((w) => w.writes.length || w.settings)
    .map((work): Step => {
      const {esc} = work.order;
      const chip = findChip(esc.boot.chip)!;
      const pages = work.writes.reduce((sum, w) => sum + w.pages, 0);
      const names = work.writes.map((w) => w.image.name).join(', then ');
      const change = `${work.changes.length} ${work.changes.length === 1 ? 'setting' : 'settings'}`;
      return {
        id: `visit-${esc.output}`,
        kind: 'visit',
        title: `Arm ${esc.output + 1}, ${craft.arms[esc.output]!.name}`,
        note: names ? `${names}: ${pages} pages; ${change}` : change,
        target: {output: esc.output, serial: esc.boot.serial},
        writes: work.writes,
        settings: work.settings,
        proves: leaveSteps.includes('write-firmware')
          ? {output: esc.output, serial: esc.boot.serial, images: []}
          : provenTarget(work),
        changes: describeChanges(work.changes, craft.arms.length).map(({title}) => ({title, note: ''})),
        estimateMs: pages * pageWriteMs(chip) + surveyMs(esc) + settingsMs(esc) + 4_000,
      };
    });
  return visits.length ? [...visits, cycleStep] : [];
}

function provenTarget({order: {esc, base, module}}: EscWork): ProvenTarget {
  const images = [
    ...(base ? [{part: 'base' as const, sha256: base.sha256}] : []),
    ...(module ? [{part: 'module' as const, sha256: module.sha256}] : []),
  ];
  return {output: esc.output, serial: esc.boot.serial, images, noModule: base !== undefined && !module};
}

const settingsMs = (esc: FoundEsc) => pageWriteMs(findChip(esc.boot.chip)!) + 700;
/** An M32 is checksummed, a K8 read: 7 s. */
const surveyMs = (esc: FoundEsc) => (findChip(esc.boot.chip)!.canChecksum ? 1_200 : 8_000);

/** What an order does to one ESC: images, settings, and what is proven afterwards. */
import {melodyDifference, type MelodyDifference} from '../compare/melody-differences';
import {plannedMelody} from '../craft/craft';
import type {Craft} from '../craft/craft';
import type {ParameterKey} from '../settings/definitions';
import {hasModuleRest} from '../bench/found';
import type {ParameterDifference} from '../compare/difference';
import type {OrderEsc} from '../compare/esc-firmware';
import {targetLayout, targetSettings} from '../compare/target-settings';
import {isPlannedBack, readFromEsc} from '../firmware/plan/kept-application';
import {bytesOfHex} from '../hex';
import {plannedFirmware} from '../craft/motor-firmware';
import {imageToWrite} from './image-to-write';
import type {ImageToWrite, ProvenTarget, SettingsTarget, StepKind} from './steps';

/** What the order does to one ESC. */
export interface EscWork {
  readonly order: OrderEsc;
  readonly writes: readonly ImageToWrite[];
  readonly settings: SettingsTarget | undefined;
  readonly changes: readonly ParameterDifference[];
  readonly melody?: MelodyDifference | undefined;
  readonly proves: ProvenTarget;
  /** The settings page that goes back with an application that was read out of this ESC. */
  readonly page?: Uint8Array | undefined;
}

export function escWork(
  craft: Pick<Craft, 'plan' | 'helicopter'>,
  leaveSteps: readonly StepKind[],
  order: OrderEsc,
): EscWork {
  const {plan} = craft;
  const isLeft = leaveSteps.includes('write-firmware');
  const writes = (order.behind || order.rewrite) && !isLeft ? imagesToWrite(order) : [];
  const {esc} = order;
  const {output} = esc;
  const {serial} = esc.boot;
  const proves = isLeft ? {output, serial, images: []} : provenTarget(order);
  const isForeign = isPlannedBack(plannedFirmware(plan, output));
  const back = isForeign ? readFromEsc(order.base, serial) : undefined;
  // What Bidex cannot read has settings that it cannot write, but for those that were kept with it.
  if (isForeign) {
    const page = back && writes.length ? {page: bytesOfHex(back.page)} : {};
    return {order, writes, settings: undefined, changes: [], proves, ...page};
  }
  const layout = targetLayout(order, writes.length > 0);
  if (layout === undefined) return {order, writes, settings: undefined, changes: [], proves};
  // Settings are carried over even when the plan on top is left out: an update never loses them.
  const parameters = leaveSteps.includes('set-parameters') ? {} : plan.parameters;
  const values = targetSettings({...craft, plan: {...plan, parameters}}, esc, layout);
  const changes = (Object.keys(values) as ParameterKey[]).flatMap((key): ParameterDifference[] => {
    const from = esc.settings?.values[key];
    const to = values[key]!;
    return from === to ? [] : [{key, output, from, to}];
  });
  const melody = leaveSteps.includes('set-parameters') ? undefined : melodyDifference(plan, esc, layout);
  const needed = changes.length || writes.length || melody;
  const text = melody && plannedMelody(plan, output);
  const settings = needed ? {output, serial, layout, values, ...(text !== undefined && {melody: text})} : undefined;
  return {order, writes, settings, changes, melody, proves};
}

/** Base first, module second. Writing the base takes a module away, so a planned one is written again behind it. */
function imagesToWrite({esc, base, module, rewrite}: OrderEsc): ImageToWrite[] {
  const wish = {rewrite, clearsModule: !module && (esc.module !== undefined || hasModuleRest(esc))};
  const first = base && imageToWrite(esc, base, {...wish, part: 'base', known: esc.pageCrcs});
  const known = first?.pages ? [] : esc.pageCrcs;
  const second = module && imageToWrite(esc, module, {...wish, part: 'module', known});
  return [first, second].filter((w) => w !== undefined && w.pages > 0) as ImageToWrite[];
}

function provenTarget({esc, base, module}: OrderEsc): ProvenTarget {
  const images = [
    ...(base ? [{part: 'base' as const, sha256: base.sha256}] : []),
    ...(module ? [{part: 'module' as const, sha256: module.sha256}] : []),
  ];
  return {output: esc.output, serial: esc.boot.serial, images, noModule: base !== undefined && !module};
}

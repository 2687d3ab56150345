/** Everything found at one moment, kept under a name: compared with others, planned again, handed on as a file. */
import {bytesToHex} from '@noble/hashes/utils.js';
import * as z from 'zod';
import {plannedFor, type Craft, type PlannedValue} from '../craft/craft';
import {controllerPlanSchema} from '../controller/plan';
import type {BoardSettings} from '../controller/settings/board-settings';
import type {Described} from '../controller/settings/planned-settings';
import {settingEntrySchema, settingValueSchema} from '../link/setting-shapes';
import {failure, success, type Result} from '../problem';
import {joinValues} from '../craft/plan-values';
import {carryOver, type CarryOver} from '../settings/carry-over';
import {
  changeText,
  definitionOf,
  formatValue,
  isLayoutRevision,
  layoutRevisions,
  parameterDefinitions,
  type LayoutRevision,
  type ParameterDefinition,
  type ParameterKey,
} from '../settings/definitions';
import {bytesOfHex} from '../hex';
import {decodeSettings, variantHolding, type DecodedSettings, type Settings} from '../settings/page';
import {controllerFields, formatControllerField} from '../controller/fields';
import {firmwareText, type Found} from '../bench/found';

const valuesSchema = z.partialRecord(
  z.enum(parameterDefinitions.map((d) => d.key) as [ParameterKey, ...ParameterKey[]]),
  z.number(),
);

const snapshotEscSchema = z.object({
  output: z.number().int().min(0).max(15),
  serial: z.string(),
  firmware: z.string(),
  layout: z.literal(layoutRevisions).optional().describe('Layout revision of the settings page'),
  values: valuesSchema,
  page: z
    .string()
    .regex(/^([0-9a-f]{2})*$/)
    .describe('The settings page as it was, hexadecimal'),
});

/** The file format of a snapshot; docs/formats/snapshot.schema.json is made from it. */
export const snapshotSchema = z.object({
  format: z.literal('bidex-snapshot-1'),
  id: z.string(),
  craft: z.string().describe('Name of the craft'),
  name: z.string().min(1).max(80),
  at: z.iso.datetime(),
  escs: z.array(snapshotEscSchema),
  controller: controllerPlanSchema
    .partial()
    .loose()
    .optional()
    .describe('Configuration of the flight controller as read'),
  controllerSerial: z.string().max(80).optional().describe('Serial of the flight controller, where it reports one'),
  settings: z
    .record(z.string(), settingValueSchema)
    .optional()
    .describe('Everything that the flight controller held, by the keys of its own description'),
  description: z
    .object({version: z.string().max(20), entries: z.array(settingEntrySchema).max(2000)})
    .optional()
    .describe('What the firmware that held those settings said of each, and its version'),
});
export type Snapshot = z.infer<typeof snapshotSchema>;

/** Everything that the flight controller held, with its own description; undefined where the snapshot does not have it. */
export const settingsHeldBy = ({settings, description}: Snapshot): (BoardSettings & Described) | undefined =>
  settings && description && {...description, values: settings};

export function snapshotOfFound(
  found: Found,
  about: {readonly id: string; readonly craft: string; readonly name: string; readonly at: string},
): Snapshot {
  return {
    format: 'bidex-snapshot-1',
    ...about,
    escs: found.escs.map((esc) => ({
      output: esc.output,
      serial: esc.boot.serial,
      firmware: firmwareText(esc),
      ...(esc.settings && {layout: esc.settings.layout}),
      values: {...esc.settings?.values},
      page: bytesToHex(esc.settingsPage),
    })),
    ...(found.controller && {controller: {...found.controller.config}}),
    ...(found.controller?.identity.serial !== undefined && {controllerSerial: found.controller.identity.serial}),
    ...(found.controller?.settings && {
      settings: {...found.controller.settings.values},
      description: {version: found.controller.identity.version, entries: [...found.controller.settings.entries]},
    }),
  };
}

/**
 * Reads a snapshot file. Values that its own settings page contradicts are a fault: the file was edited by hand. Values
 * that an older Bidex did not name yet are read from the page.
 */
export function readSnapshot(text: string): Result<Snapshot> {
  const refuse = (place: string, meaning: string) =>
    failure({code: 'bad-snapshot', place, meaning, remedy: 'Nothing was taken over. Export the snapshot again.'});
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return refuse('snapshot file', 'It is not JSON.');
  }
  const read = snapshotSchema.safeParse(json);
  if (!read.success) {
    const issue = read.error.issues[0];
    return refuse(`snapshot file, ${issue?.path.join(' ') ?? ''}`, issue?.message ?? 'It has another shape.');
  }
  const escs: Snapshot['escs'] = [];
  for (const esc of read.data.escs) {
    const page = decodeSettings(bytesOfHex(esc.page), variantHolding(esc.values));
    const values = page.ok ? page.value.values : esc.values;
    const wrong = parameterDefinitions.find(({key}) => key in esc.values && values[key] !== esc.values[key]);
    if (wrong) return refuse(`motor ${esc.output + 1}`, `${wrong.name} is not what its settings page says.`);
    escs.push({...esc, values: {...values}});
  }
  return success({...read.data, escs});
}

/** One line of a comparison: what each motor holds on the left and on the right. */
export interface ComparedLine {
  readonly name: string;
  readonly motors: readonly {
    readonly left: string;
    readonly right: string;
    /** From left to right. */
    readonly change: string;
    readonly differs: boolean;
  }[];
  readonly differs: boolean;
}

/** Values of a side by motor; undefined where it does not hold the parameter, "free" where it leaves the value open. */
export type Side = (key: ParameterKey, output: number) => number | 'free' | undefined;

export const sideOfSnapshot =
  ({escs}: Snapshot): Side =>
  (key, output) =>
    escs.find((e) => e.output === output)?.values[key];
export const sideOfFound =
  ({escs}: Found): Side =>
  (key, output) =>
    escs.find((e) => e.output === output)?.settings?.values[key];
export const sideOfPlan =
  ({plan}: Pick<Craft, 'plan'>): Side =>
  (key, output) =>
    plannedFor(plan.parameters[key], output) ?? 'free';

/**
 * Every parameter that one of the sides holds, side by side. A value that only one side holds differs, unless the other
 * leaves it open.
 */
export function compareSides(left: Side, right: Side, motors: number): ComparedLine[] {
  return parameterDefinitions.flatMap((definition): ComparedLine[] => {
    const cells = Array.from({length: motors}, (_, output) => {
      const [a, b] = [left(definition.key, output), right(definition.key, output)];
      const show = (v: ReturnType<Side>) =>
        v === undefined ? '–' : v === 'free' ? 'free' : formatValue(definition, v);
      const isOpen = a === 'free' || b === 'free';
      const any = typeof a === 'number' || typeof b === 'number';
      return {left: show(a), right: show(b), differs: !isOpen && isOther(definition, a, b), any};
    });
    if (!cells.some((c) => c.any)) return [];
    const lines = cells.map(({left: l, right: r, differs}) => ({
      ...{left: l, right: r, differs, change: changeText(definition, l, r)},
    }));
    return [{name: definition.name, motors: lines, differs: lines.some((c) => c.differs)}];
  });
}

/** Where only one side has the parameter, its default there is no news: that comes with the layout. */
function isOther({default: usual}: ParameterDefinition, a: ReturnType<Side>, b: ReturnType<Side>): boolean {
  if (a === undefined || b === undefined) return (a ?? b ?? usual) !== usual;
  return a !== b;
}

/** What a restore would plan, and what carrying over to another layout did to it. */
export interface RestorePlan {
  readonly parameters: Readonly<Partial<Record<ParameterKey, PlannedValue>>>;
  /** Per motor, where the layout differs. */
  readonly carried: readonly {readonly output: number; readonly from: LayoutRevision; readonly carried: CarryOver}[];
}

/**
 * Values of a snapshot as a plan for firmware of `layout`: one value for all where the motors agree, else one per motor.
 * A motor whose values the snapshot does not know, such as one that ran foreign firmware, keeps what is planned for it.
 * The plan is edited, no hardware: the docket shows what a work order would then do.
 */
export function restoreAsPlan(
  snapshot: Snapshot,
  layout: LayoutRevision,
  {plan, arms}: Pick<Craft, 'plan' | 'arms'>,
): RestorePlan {
  const carried: {output: number; from: LayoutRevision; carried: CarryOver}[] = [];
  const values = new Map<number, Settings>();
  for (const esc of snapshot.escs) {
    if (esc.layout === undefined || !isLayoutRevision(esc.layout)) continue;
    const settings: DecodedSettings = {layout: esc.layout, values: esc.values};
    const over = carryOver(settings, layout);
    values.set(esc.output, over.values);
    if (esc.layout !== layout) carried.push({output: esc.output, from: esc.layout, carried: over});
  }
  const parameters: Partial<Record<ParameterKey, PlannedValue>> = {};
  for (const {key, default: usual, calibratedSpread} of parameterDefinitions) {
    const known = arms.map((_, output) => values.get(output)?.[key]);
    if (known.every((v) => v === undefined)) continue;
    // What calibration made of an ESC nobody knew cannot be planned for it.
    const unknown = calibratedSpread ? undefined : usual;
    const all = known.map((v, output) => v ?? plannedFor(plan.parameters[key], output) ?? unknown);
    if (all.every((v) => v !== undefined)) parameters[key] = joinValues(all);
  }
  return {parameters, carried};
}

/** The parameters of a plan with those that a snapshot gives it: all, or the named ones. */
export function withRestored(
  planned: Craft['plan']['parameters'],
  {parameters}: RestorePlan,
  keys = Object.keys(parameters) as readonly ParameterKey[],
): Craft['plan']['parameters'] {
  return {...planned, ...Object.fromEntries(keys.flatMap((key) => (parameters[key] ? [[key, parameters[key]]] : [])))};
}

/** A table for people who calculate: one line per parameter, one column per motor. */
export function snapshotRows(snapshot: Snapshot): string[][] {
  const escs = [...snapshot.escs].sort((a, b) => a.output - b.output);
  const head = ['', ...escs.map((e) => `motor ${e.output + 1}`)];
  const lines = parameterDefinitions
    .filter(({key}) => escs.some((e) => e.values[key] !== undefined))
    .map(({key}) => [
      unitName(key),
      ...escs.map((e) => (e.values[key] === undefined ? '' : formatValue(definitionOf(key), e.values[key]))),
    ]);
  const controller = snapshot.controller;
  const fields = controller
    ? controllerFields.flatMap(({field, name}) => {
        const value = controller[field];
        return value === undefined ? [] : [[name, formatControllerField(field, value)]];
      })
    : [];
  return [
    head,
    ['Serial', ...escs.map((e) => e.serial)],
    ['Firmware', ...escs.map((e) => e.firmware)],
    ...lines,
    ...fields,
  ];
}

const unitName = (key: ParameterKey) => definitionOf(key).name;

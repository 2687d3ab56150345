/** Where the found bench drifts from the plan. */
import {controllerDifferences, type ControllerDifference} from '../controller/fields';
import {settingDifferences, type SettingDifference} from '../controller/settings/planned-settings';
import {plannedFor, type Craft, type Plan, type PlannedValue} from '../craft/craft';
import {isPlannedBack} from '../firmware/plan/kept-application';
import {plannedFirmware} from '../craft/motor-firmware';
import {firmwareName} from '../firmware/plan/firmware-plan';
import {
  definitionOf,
  changeText,
  formatValue,
  parameterDefinitions,
  type ParameterDefinition,
  type ParameterKey,
} from '../settings/definitions';
import {firmwareText, type Found} from '../bench/found';
import {motorList} from '../words/motor-list';
import {melodyDifference, type MelodyDifference} from './melody-differences';
import {oddOnesOut} from '../bench/odd-one-out';

interface FirmwareDifference {
  readonly output: number;
  readonly from: string;
  readonly to: string;
}

export interface ParameterDifference {
  readonly key: ParameterKey;
  readonly output: number;
  readonly from: number | undefined;
  readonly to: number;
}

export interface Differences {
  readonly firmware: readonly FirmwareDifference[];
  readonly parameters: readonly ParameterDifference[];
  readonly controller: readonly ControllerDifference[];
  readonly melodies: readonly MelodyDifference[];
  /** Settings of the flight controller beside its fields. */
  readonly settings: readonly SettingDifference[];
}

export function findDifferences(plan: Plan, found: Found): Differences {
  const {controller} = found;
  return {
    firmware: found.escs.flatMap((esc) => {
      const from = firmwareText(esc);
      const to = firmwareName(plannedFirmware(plan, esc.output));
      return from === to ? [] : [{output: esc.output, from, to}];
    }),
    parameters: parameterDefinitions.flatMap(({key}) =>
      found.escs.flatMap(({output, settings}) => {
        // Firmware of others has settings of its own.
        if (isPlannedBack(plannedFirmware(plan, output))) return [];
        const to = plannedFor(plan.parameters[key], output);
        const from = settings?.values[key];
        // Not in this layout at all: that is for the firmware to change, not for a parameter.
        const absent = settings !== undefined && from === undefined;
        return to === undefined || from === to || absent ? [] : [{key, output, from, to}];
      }),
    ),
    controller: controller ? controllerDifferences(controller.config, plan.controller) : [],
    melodies: found.escs.flatMap((esc) => melodyDifference(plan, esc, esc.settings?.layout) ?? []),
    settings: controller ? settingDifferences(plan.settings, controller.settings, controller.identity.version) : [],
  };
}

export const hasDifferences = (d: Differences): boolean =>
  d.firmware.length + d.parameters.length + d.controller.length + d.melodies.length + d.settings.length > 0;

/** What a person reads about one parameter line: as planned, differing, or an expected spread. */
export interface Verdict {
  readonly kind: 'as planned' | 'differs' | 'moves together' | 'expected spread' | 'not planned' | 'unknown';
  readonly text: string;
  /** What the pilot would see in flight, where single ESCs differ from the others. */
  readonly symptom?: string;
}

interface Held {
  readonly output: number;
  readonly value: number | undefined;
}

export function judgeParameter(
  definition: ParameterDefinition,
  craft: Pick<Craft, 'plan'>,
  found: Found | undefined,
): Verdict {
  if (!found) return {kind: 'unknown', text: 'not surveyed yet'};
  const planned = craft.plan.parameters[definition.key];
  // Firmware that does not have it has nothing to differ in; that is for the firmware to change.
  const values = found.escs.flatMap((e): Held[] => {
    const value = e.settings?.values[definition.key];
    return e.settings && value === undefined ? [] : [{output: e.output, value}];
  });
  if (!values.some((v) => v.value !== undefined)) return {kind: 'unknown', text: 'not in this firmware'};
  if (planned?.kind === 'calibrated') return judgeSpread(definition, values);
  if (!planned)
    return definition.calibratedSpread ? judgeSpread(definition, values) : judgeUnplanned(definition, values);
  const off = values.filter((v) => v.value !== plannedFor(planned, v.output));
  if (!off.length)
    return new Set(values.map((v) => v.value)).size > 1
      ? {kind: 'expected spread', text: 'differs per motor, as planned'}
      : {kind: 'as planned', text: 'all as planned'};
  const groups = stepsOf(definition, planned, off);
  const [first] = groups;
  if (groups.length === 1 && off.length === values.length)
    return {kind: 'moves together', text: `${first!.step} on all`};
  const text =
    groups.length > maxSteps
      ? `${listed(off, values)} not as planned`
      : groups.map(({step, of}) => `${listed(of, values)}: ${step}`).join('; ');
  // What single ESCs do to the craft is only told where they differ from each other now, or have to.
  const isOdd = definition.perMotor === true || new Set(values.map((v) => v.value)).size > 1;
  return {kind: 'differs', text, ...(isOdd && off.length < values.length && {symptom: definition.odd})};
}

/** More different steps than this are not named one by one. */
const maxSteps = 2;

/** "48 → 24 kHz", with the motors that make this step. */
function stepsOf(
  definition: ParameterDefinition,
  planned: PlannedValue,
  off: readonly Held[],
): {readonly step: string; readonly of: readonly Held[]}[] {
  const show = shower(definition);
  const groups = new Map<string, Held[]>();
  for (const held of off) {
    const step = changeText(definition, show(held.value), show(plannedFor(planned, held.output)));
    groups.set(step, [...(groups.get(step) ?? []), held]);
  }
  return [...groups].map(([step, of]) => ({step, of}));
}

/** Nothing is planned: the ESCs are held against each other. */
function judgeUnplanned(definition: ParameterDefinition, values: readonly Held[]): Verdict {
  const show = shower(definition);
  // Which way a motor turns is no value among others: it follows from what was seen.
  if (definition.key === 'rotation')
    return {kind: 'not planned', text: 'not known yet; see every motor turn on the Spin station'};
  const odd = oddOnesOut(values, (v) => String(v.value));
  if (odd.length)
    return {
      kind: 'differs',
      text: `not planned; ${listed(odd, values)}: ${show(odd[0]!.value)}`,
      symptom: definition.odd,
    };
  const alike = values.every((v) => v.value === values[0]!.value);
  return {
    kind: 'not planned',
    text: alike ? `not planned; all hold ${show(values[0]!.value)}` : 'not planned; they differ',
  };
}

function judgeSpread(definition: ParameterDefinition, values: readonly Held[]): Verdict {
  const known = values.flatMap(({value}) => (value === undefined ? [] : [value]));
  const spread = Math.max(...known) - Math.min(...known);
  const usual = definition.calibratedSpread ?? 0;
  return spread <= usual
    ? {kind: 'expected spread', text: `spread of ${spread} ${definition.unit} is expected`}
    : {kind: 'differs', text: `spread of ${spread} ${definition.unit}, typical is ${usual}`, symptom: definition.odd};
}

const listed = (some: readonly Held[], all: readonly Held[]) =>
  motorList(
    some.map((v) => v.output),
    all.length,
  );
const shower = (definition: ParameterDefinition) => (v: number | undefined) =>
  v === undefined ? 'not stored' : formatValue(definition, v);

/** One line per parameter change, motors with the same change together; parameters that are new at their default in one. */
export function describeChanges(
  changes: readonly ParameterDifference[],
  motors: number,
): {title: string; note: string}[] {
  const isNew = ({key, from, to}: ParameterDifference) => from === undefined && to === definitionOf(key).default;
  const groups = new Map<string, ParameterDifference[]>();
  for (const change of changes.filter((c) => !isNew(c))) {
    const id = `${change.key} ${change.from} ${change.to}`;
    groups.set(id, [...(groups.get(id) ?? []), change]);
  }
  const lines = [...groups.values()].map((group) => {
    const {key, from, to} = group[0]!;
    const definition = definitionOf(key);
    const before = from === undefined ? '' : `${formatValue(definition, from)} → `;
    return {
      title: `${definition.name} ${before}${formatValue(definition, to)}`,
      note: motorList([...new Set(group.map((c) => c.output))], motors),
    };
  });
  const added = new Set(changes.filter(isNew).map((c) => c.key)).size;
  const news = `${added} new ${added === 1 ? 'parameter' : 'parameters'}`;
  return added ? [...lines, {title: news, note: 'at default'}] : lines;
}

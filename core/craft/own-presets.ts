/** Presets of one's own: a craft kept as a starting plan, applied to another craft part by part. */
import * as z from 'zod';
import {definitionOf, formatValue, parameterDefinitions, type ParameterKey} from '../settings/definitions';
import {controllerFields, formatControllerField} from '../controller/fields';
import type {ControllerPlan} from '../controller/plan';
import {craftSchema, type Craft, type PlannedValue} from './craft';
import {firmwareName} from '../firmware/plan/firmware-plan';
import {fitToMotors} from './plan-values';

export const ownPresetSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(60),
  /** Why it is as it is, in the words of who kept it. */
  note: z.string().max(400),
  /** Epoch ms. */
  at: z.number(),
  craft: craftSchema,
});
export type OwnPreset = z.infer<typeof ownPresetSchema>;

export const presetParts = ['parameters', 'firmware', 'flight controller', 'motors and propellers', 'battery'] as const;
export type PresetPart = (typeof presetParts)[number];

/** Planned values that belong to one craft's wiring and calibration: a preset never brings them. */
const staysWithCraft = (key: string) => parameterDefinitions.find((d) => d.key === key)?.perMotor === true;

/** `craft` with the chosen parts of a preset. Arms, outputs, rotation, calibrated end points and boards stay its own. */
export function applyPreset(craft: Craft, {craft: from}: OwnPreset, parts: readonly PresetPart[]): Craft {
  const has = (part: PresetPart) => parts.includes(part);
  const {plan} = craft;
  return {
    ...craft,
    ...(has('motors and propellers') && {motor: from.motor, propeller: from.propeller}),
    ...(has('battery') && {battery: from.battery}),
    // What it does not bring stays: the controller's firmware is built for one board, melodies and settings are the craft's.
    plan: {
      ...plan,
      firmware: has('firmware') ? from.plan.firmware : plan.firmware,
      parameters: has('parameters') ? parametersOf(craft, from) : plan.parameters,
      controller: has('flight controller') ? controllerOf(craft, from) : plan.controller,
    },
  };
}

/** How the board sits in the craft is no matter of taste. */
function controllerOf({plan}: Craft, from: Craft): ControllerPlan {
  const {arms, mounting} = plan.controller;
  return {...from.plan.controller, arms, mounting};
}

function parametersOf(craft: Craft, from: Craft): Record<string, PlannedValue> {
  const parameters = {...craft.plan.parameters};
  for (const [key, planned] of Object.entries(from.plan.parameters)) {
    if (!staysWithCraft(key)) parameters[key] = fitToMotors(planned, craft.arms.length);
  }
  return parameters;
}

interface CraftChange {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** What changes from one craft to the other, as a person reads it. */
export function craftChanges(from: Craft, to: Craft): CraftChange[] {
  const changes: CraftChange[] = [
    ...simpleFields.map(({name, text}) => ({name, from: text(from), to: text(to)})),
    ...parameterDefinitions.map(({key, name}) => ({
      name,
      from: plannedText(key, from.plan.parameters[key]),
      to: plannedText(key, to.plan.parameters[key]),
    })),
  ];
  const [was, is] = [from.plan.controller, to.plan.controller];
  const fields = controllerFields.map(({field, name}) => ({
    name,
    from: plannedField(was, field),
    to: plannedField(is, field),
  }));
  return [...changes, ...fields].filter((c) => c.from !== c.to);
}

/** A plan may be silent on a field. */
function plannedField(plan: ControllerPlan, field: keyof ControllerPlan): string {
  const value = plan[field];
  return value === undefined ? 'as on the craft' : formatControllerField(field, value);
}

const simpleFields: readonly {readonly name: string; readonly text: (craft: Craft) => string}[] = [
  {name: 'Firmware', text: ({plan}) => firmwareName(plan.firmware)},
  {
    name: 'Motors',
    text: ({motor: m}) => `${m.size}, ${m.kv} KV, ${m.poles} poles, ${exact(m.resistanceOhm * 1000)} mΩ`,
  },
  {name: 'Propellers', text: ({propeller: p}) => `${p.diameterInch} × ${p.pitchInch} inch, ${p.blades} blades`},
  {name: 'Battery', text: ({battery: b}) => `${b.cells}S ${b.capacityMah} mAh`},
];
const exact = (value: number) => Math.round(value * 10) / 10;

/** A planned value in words: one for all, one per motor, or as calibrated. */
export function plannedText(key: ParameterKey, planned: PlannedValue | undefined): string {
  if (!planned) return 'not planned';
  const definition = definitionOf(key);
  if (planned.kind === 'calibrated') return 'as calibrated';
  if (planned.kind === 'same') return formatValue(definition, planned.value);
  return planned.values.map((v) => formatValue(definition, v)).join(' / ');
}

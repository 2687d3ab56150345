/**
 * What proofs rest on, as it is found and planned now: the parts that the rows of several kinds are put together from. What
 * nobody has read is left out, so that a proof is held against what was read since and nothing else.
 */
import {canonicalJson} from '../canonical-json';
import {offsetKeys} from '../controller/settings/level-offsets';
import {settingsPlannedFor} from '../controller/settings/planned-settings';
import {controllerFieldName, formatControllerField} from '../controller/fields';
import type {ControllerConfig, ControllerPlan} from '../controller/plan';
import {plannedFor, plannedMelody, type Craft, type Plan} from '../craft/craft';
import {plannedFirmware} from '../craft/motor-firmware';
import {firmwareName, type FirmwarePlan} from '../firmware/plan/firmware-plan';
import {keptGrounds, type Ground, type KnownGround} from '../proof/ground';
import {isSome, type ProofKind, type Some} from '../proof/proof';
import type {WrittenPart} from '../proof/standing';
import {formatValue, parameterDefinitions, type ParameterDefinition} from '../settings/definitions';
import {melodyIn, melodyText} from '../sounds/melody-block';
import {equalSerials} from './equal-serials';
import {firmwareText, foundEsc, type Found, type FoundEsc} from './found';
import {replacedCount, type Replaced} from './replaced';

/** Everything that grounds are read from. */
export interface GroundsQuestion {
  readonly craft: Pick<Craft, 'arms' | 'motor' | 'weightG'>;
  /** The plan of both sides, see core/craft/whole-plan.ts. */
  readonly plan: Plan;
  readonly found: Found | undefined;
  readonly replaced: Replaced;
}

/** One kind of proof: what it rests on. */
export interface ProofRow {
  readonly kind: ProofKind;
  /** What takes it back when a work order writes it. */
  readonly restsOn: readonly WrittenPart[];
  /** Cable and battery take nothing from it. */
  readonly isOffBench?: boolean;
  readonly grounds: (q: GroundsQuestion) => readonly KnownGround[];
}

/** What a proof of a row rests on at this moment, to be kept with it. */
export function groundsOfRow(row: ProofRow, q: GroundsQuestion): Some<Ground> {
  const grounds = keptGrounds(row.grounds(q));
  if (!isSome(grounds)) throw new Error(`A proof of "${row.kind}" rests on nothing`);
  if (new Set(grounds.map((g) => g.key)).size < grounds.length)
    throw new Error(`Two grounds of "${row.kind}" share a key`);
  return grounds;
}

/**
 * Counts up when a kind is held against something new: proofs of before were not taken from it. 1: proofs name what they
 * rest on.
 */
const rulesOfNow = 1;
export const rules = (): KnownGround => ({
  key: 'rules',
  value: rulesOfNow,
  name: 'what it is held against',
  sentence: () => 'it was taken by an earlier version of Bidex, which did not keep all that it rests on',
});

/** What an order was asked for: one that puts back or that left steps out proves no plan. */
type AskedFor = 'the plan' | 'a roll-back' | 'an order with skipped steps';
export const askedFor = (value: AskedFor): KnownGround => ({
  key: 'asked for',
  value,
  name: 'what was requested',
  sentence: (was) => `it was taken by ${was}, which does not prove the plan`,
});

/** A value of every motor, in the order of outputs; null where it was not read. */
const ofMotors = (
  {craft, found}: GroundsQuestion,
  of: (esc: FoundEsc) => string | number | undefined,
): readonly (string | number | null)[] =>
  craft.arms.map((_, output) => {
    const esc = found && foundEsc(found, output);
    return (esc && of(esc)) ?? null;
  });

/** A ground of every motor; none where not one of them was read. */
const listed = (ground: Omit<KnownGround, 'value'>, value: readonly (string | number | null)[]): KnownGround[] =>
  value.every((v) => v === null) ? [] : [{...ground, value}];

export const escsFound = (q: GroundsQuestion): KnownGround[] =>
  listed(
    {
      key: 'esc',
      name: 'the ESC',
      sentence: (was, is, motor) => `another ESC is on motor ${motor! + 1} now, ${is} in place of ${was}`,
      // A chip that was copied with its serial can be on another motor without being told.
      unsure: q.craft.arms.map((_, output) => !!q.found && equalSerials(q.found).flat().includes(output)),
    },
    ofMotors(q, (e) => e.boot.serial),
  );

const hex = (n: number) => n.toString(16).padStart(8, '0');

/** Name of an ESC's firmware and checksum of its body: the same name with other bytes is other firmware. */
export const firmwareGround = (esc: Pick<FoundEsc, 'identity' | 'module' | 'boot' | 'pageCrcs'>): string =>
  [firmwareText(esc), ...[esc.identity, esc.module].flatMap((part) => (part ? [hex(part.bodyCrc32)] : []))].join(' ');

export const firmwareFound = (q: GroundsQuestion): KnownGround[] =>
  listed({key: 'firmware', name: 'the firmware'}, ofMotors(q, firmwareGround));

const firmwareValue = (firmware: FirmwarePlan): string =>
  `${firmwareName(firmware)}${firmware.file === undefined ? '' : ` ${firmware.file}`}`;

/** One for all, or that of each motor where one has its own. */
export const firmwarePlanned = ({craft, plan}: GroundsQuestion): KnownGround => ({
  key: 'planned firmware',
  value: plan.ownFirmware
    ? craft.arms.map((_, motor) => firmwareValue(plannedFirmware(plan, motor)))
    : firmwareValue(plan.firmware),
  name: 'the planned firmware',
});

const shownSetting =
  (definition: ParameterDefinition) =>
  (v: string | number | boolean): string =>
    typeof v === 'number' ? formatValue(definition, v) : String(v);

/** Settings as found, one ground each. */
export const settingsFound = (
  q: GroundsQuestion,
  of: (definition: ParameterDefinition) => boolean = () => true,
): KnownGround[] =>
  parameterDefinitions.filter(of).flatMap((definition) =>
    listed(
      {key: `setting ${definition.key}`, name: definition.name, shown: shownSetting(definition)},
      ofMotors(q, (e) => e.settings?.values[definition.key]),
    ),
  );

/** Melody and byte layout: what of a settings page is no parameter. */
export const pagesFound = (q: GroundsQuestion): KnownGround[] => [
  ...listed(
    {key: 'layout', name: 'the layout of the settings'},
    ofMotors(q, (e) => e.settings?.layout),
  ),
  ...listed(
    {key: 'notes', name: 'the notes at start-up'},
    ofMotors(q, (e) => melodyText(melodyIn(e.settingsPage))),
  ),
];

const leftAsItIs = 'left as it is';

export const settingsPlanned = ({craft, plan}: GroundsQuestion): KnownGround[] => [
  ...parameterDefinitions.map((definition): KnownGround => {
    const planned = plan.parameters[definition.key];
    return {
      key: `planned ${definition.key}`,
      value: craft.arms.map((_, m) =>
        planned?.kind === 'calibrated' ? 'calibrated' : (plannedFor(planned, m) ?? leftAsItIs),
      ),
      name: `planned ${definition.name}`,
      shown: shownSetting(definition),
    };
  }),
  {
    key: 'planned notes',
    value: craft.arms.map((_, m) => plannedMelody(plan, m) ?? leftAsItIs),
    name: 'the planned notes at start-up',
  },
];

const controllerFound = ({found}: GroundsQuestion): KnownGround[] => {
  const identity = found?.controller?.identity;
  if (!identity) return [];
  const {board, serial} = identity;
  return [
    {
      key: 'controller',
      value: serial === undefined ? board : `${board} ${serial}`,
      name: 'the flight controller',
      sentence: (was, is) => `another flight controller is there now, ${is} in place of ${was}`,
    },
  ];
};

/** Counts of what a person said was replaced, where nothing tells it by itself. */
const controllerReplaced = ({replaced}: GroundsQuestion): KnownGround => ({
  key: 'controller replaced',
  value: replacedCount(replaced, 'controller'),
  name: 'the flight controller',
  sentence: () => 'the flight controller was replaced',
});

/** Which flight controller it is: by its serial, and by what a person said. */
export const controllerIs = (q: GroundsQuestion): KnownGround[] => [...controllerFound(q), controllerReplaced(q)];

export const motorsReplaced = ({craft, plan, replaced}: GroundsQuestion): KnownGround => ({
  key: 'motors replaced',
  value: craft.arms.map((_, output) => replacedCount(replaced, `motor ${plan.controller.arms[output] ?? output}`)),
  name: 'the motor',
  sentence: (_was, _is, motor) => `motor ${motor! + 1} was replaced`,
});

export const controllerFirmware = ({found}: GroundsQuestion): KnownGround[] => {
  const identity = found?.controller?.identity;
  return identity
    ? [
        {
          key: 'controller firmware',
          value: `${identity.firmware} ${identity.version}`,
          name: "the flight controller's firmware",
        },
      ]
    : [];
};

/** Fields of the flight controller as it was found; one that its firmware does not have is absent. */
export const fieldsFound = ({found}: GroundsQuestion, fields: readonly (keyof ControllerPlan)[]): KnownGround[] => {
  const config: Partial<ControllerConfig> = found?.controller?.config ?? {};
  return fields.flatMap((field) => {
    const value = config[field];
    return value === undefined
      ? []
      : [{key: `field ${field}`, value: formatControllerField(field, value), name: controllerFieldName(field)}];
  });
};

export const gyroFound = ({found}: GroundsQuestion): KnownGround[] =>
  found?.controller
    ? [{key: 'field gyroHz', value: found.controller.config.gyroHz, name: 'the gyro rate', shown: (v) => `${v} Hz`}]
    : [];

export const fieldsPlanned = (
  {plan: {controller}}: GroundsQuestion,
  fields: readonly (keyof ControllerPlan)[],
): KnownGround[] =>
  fields.map((field) => {
    const value = controller[field];
    return {
      key: `planned ${field}`,
      value: value === undefined ? leftAsItIs : formatControllerField(field, value),
      name: `planned ${controllerFieldName(field)}`,
    };
  });

/** What the flight controller takes off its accelerometer, where it tells that. */
export const offsetsFound = ({found}: GroundsQuestion): KnownGround[] => {
  const values = found?.controller?.settings?.values ?? {};
  return offsetKeys.flatMap((key) =>
    values[key] === undefined ? [] : [{key: `setting ${key}`, value: canonicalJson(values[key]), name: key}],
  );
};

/** Settings beside the fields that are planned: as planned, and as they were found where that is told. */
export const otherSettingsPlanned = ({plan: {settings}, found}: GroundsQuestion): KnownGround[] => {
  const {settings: held, identity} = found?.controller ?? {};
  const planned = Object.entries(settings ?? {}).map(([key, {value}]) => ({
    ...{key: `planned setting ${key}`, value: canonicalJson(value), name: `planned ${key}`},
  }));
  if (!held || !identity) return planned;
  const placed = settingsPlannedFor(settings, {version: identity.version, entries: held.entries});
  return [
    ...planned,
    ...placed.flatMap(({key, refusal}) =>
      refusal === undefined ? [{key: `setting ${key}`, value: canonicalJson(held.values[key]), name: key}] : [],
    ),
  ];
};

/** Exact shapes of everything the store keeps: a backup whose rows do not have them is refused whole, with the place. */
import {scriptChoiceSchema} from '../spin/script/script-choices';
import * as z from 'zod';
import {controllerConfigSchema} from '../controller/plan';
import {craftSchema, planSchema, rotationDirection} from '../craft/craft';
import {ownPresetSchema} from '../craft/own-presets';
import {
  bootIdentitySchema,
  controllerIdentitySchema,
  loaderIdentitySchema,
  lockSchema,
  mixerRowSchema,
  powerSchema,
  roadSchema,
} from '../link/operations';
import {settingEntrySchema, settingValueSchema} from '../link/setting-shapes';
import {mappingSchema} from '../flight/mapping';
import {notedSchema} from '../flight/noted';
import {layoutRevisions} from '../settings/definitions';
import {variants} from '../settings/variant';
import {settingsSchema} from '../settings/schemas';
import {
  bytesSchema as bytes,
  idSchema as id,
  outputSchema as output,
  textSchema as text,
  timeSchema as time,
} from '../schemas';
import {keptStressSchema} from '../replies/kept-stress';
import {replacedSchema} from '../bench/replaced';
import {proofKinds} from '../proof/proof';
import {leavableKinds, stepKinds} from '../run/steps/step-kinds';
import {snapshotSchema} from '../snapshot/snapshot';

/** Longest text that a person writes on a flight or a craft. */
const longestNote = 4_000;
const crc = z.number().int().min(0).max(0xffffffff);

const problemSchema = z.object({code: text, place: text, meaning: text, remedy: text});

const identitySchema = z.object({
  family: text,
  version: text,
  variant: text,
  board: text,
  chip: text,
  deadTimeNs: z.number().int().min(0),
  layoutRevision: z.number().int().min(0).max(255),
  features: z.array(z.enum(['replies', 'speed-following-pwm', 'melody', 'debug'])),
  imageLength: z.number().int().min(0),
  bodyCrc32: crc,
  pwmKhz: z.number().positive().optional(),
  bootRevision: z.number().int().min(0),
  base: z.object({lowest: text, highest: text}).optional(),
});
const hardwareSchema = z.object({board: text, chip: text, deadTimeNs: z.number().int().min(0)});
const claimSchema = hardwareSchema.extend({serial: id, by: text, at: time});
const decodedSchema = z.object({
  layout: z.literal(layoutRevisions),
  values: settingsSchema,
  variant: z.enum(variants).optional(),
});

const foundEscSchema = z.object({
  output,
  at: time,
  boot: bootIdentitySchema,
  identity: identitySchema.optional(),
  module: identitySchema.optional(),
  hardware: hardwareSchema.optional(),
  claim: claimSchema.optional(),
  settingsPage: bytes,
  settings: decodedSchema.optional(),
  pageCrcs: z.array(crc).max(1024),
  application: bytes.optional(),
});
const foundSchema = z.object({
  at: time,
  adapter: text,
  road: roadSchema,
  plugged: z.literal('controller').optional(),
  power: powerSchema,
  escs: z.array(foundEscSchema).max(16),
  silent: z.array(z.object({output, problem: problemSchema})).max(16),
  controller: z
    .object({
      identity: controllerIdentitySchema,
      config: controllerConfigSchema,
      mixer: z.array(mixerRowSchema).max(16).optional(),
      locks: z.array(lockSchema).max(16).optional(),
      settings: z
        .object({
          entries: z.array(settingEntrySchema).max(2000),
          values: z.record(z.string(), settingValueSchema),
        })
        .optional(),
      unread: z.literal('settings').optional(),
    })
    .optional(),
  loader: loaderIdentitySchema.optional(),
});

const single = z.union([z.string().max(2000), z.number(), z.boolean()]);
const groundSchema = z.object({
  key: z.string().min(1).max(60),
  value: z.union([single, z.array(single.nullable()).max(16)]),
  unsure: z.array(z.boolean()).max(16).optional(),
});

const newProofSchema = z.object({
  kind: z.enum(proofKinds),
  at: time,
  session: text,
  cycles: z.number().int().min(0),
  holds: z.boolean(),
  text,
  grounds: z.array(groundSchema).min(1).max(500),
  on: z.array(z.object({output, serial: id})).min(1),
  count: z.number().int().min(1),
  frameHz: z.number().positive().optional(),
  replies: z
    .array(
      z.object({
        throttle: z.number().min(0).max(1),
        alone: z
          .array(z.object({turned: z.boolean(), others: z.array(output).max(16)}))
          .max(16)
          .optional(),
        motors: z.array(
          z.object({
            asked: z.number().int().min(0),
            lost: z.number().int().min(0),
            rpm: z.number().min(0).nullable(),
            noLoadRpm: z.number().min(0).optional(),
          }),
        ),
      }),
    )
    .optional(),
});

const proofSchema = newProofSchema.extend({place: z.number().int().min(0)});

const sightingSchema = z.object({
  output,
  arm: z.number().int().min(0).max(15),
  sense: rotationDirection,
  rotationSetting: z.number().optional(),
  mappedArm: z.number().int().min(0).max(15).optional(),
  startsAtUs: z.number().optional(),
  startsUs: z.array(z.number()).max(200).optional(),
  coastDownS: z.number().optional(),
  grounds: z.array(groundSchema).max(100),
  place: z.number().int().min(0),
  session: text,
  cycles: z.number().int().min(0),
  at: time,
});

/** A number for each part of the craft's electronics that an order can write. */
const written = (number: z.ZodType<number>) =>
  z.object({
    firmware: number.optional(),
    settings: number.optional(),
    controller: number.optional(),
    arming: number.optional(),
  });
const place = z.number().int().min(0);

const recordSchema = z.object({
  craftId: id,
  count: place,
  found: foundSchema.optional(),
  foundPlace: place,
  proofs: z.array(proofSchema),
  sightings: z.array(sightingSchema),
  noise: z
    .object({
      flight: text,
      ratio: z.number().optional(),
      gainDb: z.number(),
      against: z.enum(['now', 'no filters']).optional(),
      delayMs: z.number().optional(),
      planned: text,
      at: time,
    })
    .optional(),
  firstPower: z.object({at: time, amps: z.number()}).optional(),
  script: scriptChoiceSchema.optional(),
  notes: z
    .array(z.object({at: time, text: z.string().max(longestNote)}))
    .max(500)
    .optional(),
  written: written(place),
  writtenAt: written(time).optional(),
  replaced: replacedSchema,
  writer: text.optional(),
});

const [firstKind, ...otherKinds] = stepKinds.all.map((kind) => kind.shape);
const stepSchema = z.discriminatedUnion('kind', [firstKind!, ...otherKinds]);

const findingSchema = z.object({
  id: text,
  severity: z.enum(['refuse', 'warn']),
  keys: z.array(text),
  place: text,
  meaning: text,
  remedy: text,
});
const orderSchema = z.object({
  id,
  craftId: id,
  createdAt: time,
  plan: planSchema,
  cells: z.number().int().min(1),
  found: foundSchema,
  leftOut: z.array(z.object({output, problem: problemSchema})),
  leftSteps: z.array(z.enum(leavableKinds.map(({kind}) => kind))).optional(),
  warnings: z.array(findingSchema).optional(),
  rollsBack: id.optional(),
  stays: z.array(problemSchema).optional(),
  steps: z.array(stepSchema),
});

const journalSchema = z.object({
  id: z.number().int().optional(),
  orderId: id,
  at: time,
  stepId: id,
  event: z.enum(['begin', 'snapshot', 'kept', 'page', 'retry', 'part', 'isolated', 'done', 'reopened', 'stopped']),
  text,
  snapshot: z.array(z.object({serial: text, output, page: bytes})).optional(),
  cycles: z.number().int().min(0).optional(),
  address: z.number().int().min(0).optional(),
  output: output.optional(),
  proof: newProofSchema.optional(),
});

/** Tables that go into a backup as JSON. Kept releases and the catalogue come from the service again. */
export const tables = [
  'craft',
  'records',
  'orders',
  'journal',
  'claims',
  'histories',
  'snapshots',
  'presets',
  'runs',
  'stresses',
  'values',
] as const;
export type BackedTable = (typeof tables)[number];

export const rowShapes: Readonly<Record<BackedTable, z.ZodType<object>>> = {
  craft: craftSchema,
  records: recordSchema,
  orders: z.object({
    id,
    craftId: id,
    state: z.enum(['running', 'stopped', 'finished', 'given up']),
    order: orderSchema,
  }),
  journal: journalSchema,
  claims: claimSchema.extend({craftId: id}),
  histories: z.object({craftId: id, past: z.array(craftSchema), future: z.array(craftSchema)}),
  snapshots: snapshotSchema.extend({craftId: id}),
  presets: ownPresetSchema,
  runs: z.object({
    id,
    craftId: id,
    at: time,
    script: text,
    outputs: z.array(output).max(16),
    source: z.enum(['burst', 'reports']),
    rateHz: z.number().min(0),
    poles: z.number().int().min(2).max(60),
    alone: z
      .array(z.object({turned: z.boolean(), others: z.array(output).max(16)}))
      .max(16)
      .optional(),
    csv: z.string().max(20_000_000),
  }),
  stresses: keptStressSchema,
  /** What a person said of the columns of logs with such a header; the catalogue comes from the service again. */
  values: z.object({key: z.string().max(20_000), value: mappingSchema}),
};

/** Files that a backup holds as they are: images of one's own, and flight logs. */
export const ownFileSchema = z.object({
  sha256: id,
  name: text,
  addedAt: time,
  origin: z.enum(['file', 'backup']),
  base: z.number().int().min(0).optional(),
  readFrom: z
    .array(
      z.object({
        serial: id,
        at: time,
        page: z
          .string()
          .regex(/^([0-9a-f]{2})*$/)
          .max(8192),
      }),
    )
    .max(64)
    .optional(),
});
export const keptLogSchema = z.object({
  id,
  craftId: id,
  name: text,
  addedAt: time,
  sha256: id,
  mapping: mappingSchema.optional(),
  config: controllerConfigSchema.optional(),
  settings: z.record(z.string(), settingValueSchema).optional(),
  notes: z.string().max(longestNote).optional(),
  noted: notedSchema.optional(),
});

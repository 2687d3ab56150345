/**
 * How a flight controller describes its settings over the bench link, so that a program sees and keeps also those that
 * it knows nothing of. See docs/bench-link.md, "Settings".
 */
import * as z from 'zod';

const text = z.string().max(200);
/** Section and key, joined by a dot; the section alone where it is one value. */
const settingKey = z
  .string()
  .max(80)
  .regex(/^[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*)?$/, 'expected a section and a key, joined by a dot');
const finite = z.number().min(-1e9).max(1e9);

/** Most values of a list, rows of a table, columns of one, words of a choice. */
export const most = {list: 64, rows: 64, columns: 12, words: 64} as const;
/** Entries and values that one request reads, and lines that one writes. */
export const settingsAtOnce = 8;

const scalar = z.union([z.boolean(), finite, text]);
export type SettingScalar = z.infer<typeof scalar>;
export const settingValueSchema = z.union([
  scalar,
  z.array(scalar).max(most.list),
  z.array(z.record(z.string().max(40), scalar)).max(most.rows),
]);
/** A truth, a number, a word, a list of those, or the rows of a table. */
export type SettingValue = z.infer<typeof settingValueSchema>;
/** Values by key. */
export type SettingValues = Readonly<Record<string, SettingValue>>;

const truth = z.object({of: z.literal('truth')});
const number = z.object({
  of: z.literal('number'),
  min: finite,
  max: finite,
  /** Values lie so far apart, from `min` on. */
  step: z.number().positive().max(1e9).optional(),
  unit: z.string().min(1).max(20).optional(),
});
const choice = z.object({of: z.literal('one of'), words: z.array(text).min(1).max(most.words)});
const words = z.object({of: z.literal('text'), longest: z.number().int().min(1).max(200)});
const simpleKind = z.discriminatedUnion('of', [truth, number, choice, words]);
export type SimpleKind = z.infer<typeof simpleKind>;
const list = z.object({of: z.literal('list'), each: simpleKind, most: z.number().int().min(1).max(most.list)});
const table = z.object({
  of: z.literal('table'),
  columns: z
    .array(z.object({name: z.string().min(1).max(40), kind: simpleKind}))
    .min(1)
    .max(most.columns),
  most: z.number().int().min(1).max(most.rows),
});
const settingKind = z.discriminatedUnion('of', [truth, number, choice, words, list, table]);
export type SettingKind = z.infer<typeof settingKind>;

/** Two numbers with a dot between them, and whatever follows. */
const versionText = z
  .string()
  .max(20)
  .regex(/^\d+\.\d+/, 'expected a version, such as 2.2');

/** An entry of older firmware that this one took the place of, and how a value of it reads here. */
const formerEntry = z.object({
  key: settingKey,
  /** In firmware older than this version. */
  before: versionText,
  /** Value here: so many times the older one, then so much more. */
  times: finite.optional(),
  plus: finite.optional(),
  /** Words that changed, older to here. */
  words: z.record(text, text).optional(),
});
export type FormerEntry = z.infer<typeof formerEntry>;

const lockState = z.enum(['powered', 'armed', 'connected']);
export const settingEntrySchema = z.object({
  key: settingKey,
  kind: settingKind,
  /** What the firmware has where nobody told it otherwise. */
  usual: settingValueSchema,
  /** Version of the firmware that had it first. */
  since: versionText,
  /** What it does, a sentence for a person. */
  sentence: z.string().min(1).max(300),
  /** State in which it cannot be set. */
  lockedWhile: lockState.optional(),
  was: z.array(formerEntry).min(1).max(4).optional(),
});
export type SettingEntry = z.infer<typeof settingEntrySchema>;

const count = z.number().int().min(0).max(2000);
const piece = z.object({from: count, most: z.number().int().min(1).max(settingsAtOnce)});
const settingLine = z.object({key: settingKey, value: settingValueSchema});
export type SettingLine = z.infer<typeof settingLine>;

/** Why a line cannot be set: nothing of its request was. */
const wrongLine = z.object({
  /** Its place among the lines of the request, from 0. */
  line: z
    .number()
    .int()
    .min(0)
    .max(settingsAtOnce - 1),
  code: z.enum(['unknown', 'kind', 'range', 'locked']),
  text: z.string().min(1).max(300),
});
export type WrongLine = z.infer<typeof wrongLine>;

const usual = {attempts: 4, timeoutMs: 800} as const;
export const settingOperations = {
  /**
   * Entries from number `from` on, in the order of their sections; `count` is how many there are, and `id` names this
   * description: another one has another name.
   */
  'settings.describe': {
    argument: piece,
    result: z.object({count, id: z.string().min(1).max(40), entries: z.array(settingEntrySchema).max(settingsAtOnce)}),
    ...usual,
  },
  /** Values in the same order, with what was set and is not saved yet. */
  'settings.read': {
    argument: piece,
    result: z.object({count, lines: z.array(settingLine).max(settingsAtOnce)}),
    ...usual,
  },
  /** Sets all lines, or none where one of them is wrong. They run from the next start on, lost unless saved. */
  'settings.write': {
    argument: z.object({lines: z.array(settingLine).min(1).max(settingsAtOnce)}),
    result: z.object({wrong: wrongLine.optional()}),
    ...usual,
  },
  'settings.save': {argument: z.null(), result: z.null(), attempts: 4, timeoutMs: 1500},
} as const;

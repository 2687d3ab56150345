/** Exact shapes that the kinds of step share, as kept orders and backups are held against them. */
import * as z from 'zod';
import {layoutRevisions} from '../settings/definitions';
import {settingsSchema} from '../settings/schemas';
import {idSchema, outputSchema, textSchema} from '../schemas';

export const stepText = {id: idSchema, title: textSchema, note: textSchema, estimateMs: z.number().min(0)};
export const targetSchema = z.object({output: outputSchema, serial: idSchema});
const part = z.enum(['base', 'module']);
export const imageToWriteSchema = z.object({
  image: z.object({name: textSchema, sha256: textSchema}),
  part,
  pages: z.number().int().min(0),
  equal: z.number().int(),
  rewrite: z.boolean(),
  clearsModule: z.boolean(),
});
export const settingsTargetSchema = targetSchema.extend({
  layout: z.literal(layoutRevisions),
  values: settingsSchema,
  melody: z.string().max(2000).optional(),
});
export const provenTargetSchema = targetSchema.extend({
  images: z.array(z.object({part, sha256: textSchema})),
  noModule: z.boolean().optional(),
});
export const changesSchema = z.array(z.object({title: textSchema, note: textSchema}));

/** Exact shapes that the kinds of step share, as kept orders and backups are held against them. */
import * as z from 'zod';
import {layoutRevisions} from '../settings/definitions';
import {settingsShape} from '../settings/shapes';
import {idShape, outputShape, textShape} from '../shapes';

export const stepText = {id: idShape, title: textShape, note: textShape, estimateMs: z.number().min(0)};
export const targetShape = z.object({output: outputShape, serial: idShape});
const part = z.enum(['base', 'module']);
export const imageToWriteShape = z.object({
  image: z.object({name: textShape, sha256: textShape}),
  part,
  pages: z.number().int().min(0),
  equal: z.number().int(),
  rewrite: z.boolean(),
  clearsModule: z.boolean(),
});
export const settingsTargetShape = targetShape.extend({
  layout: z.literal(layoutRevisions),
  values: settingsShape,
  melody: z.string().max(2000).optional(),
});
export const provenTargetShape = targetShape.extend({
  images: z.array(z.object({part, sha256: textShape})),
  noModule: z.boolean().optional(),
});
export const changesShape = z.array(z.object({title: textShape, note: textShape}));

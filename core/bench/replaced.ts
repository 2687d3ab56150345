/** Parts that a person said were replaced: how often, so that what was measured on the one before is told from what is there. */
import * as z from 'zod';

/** A motor by its arm, counted from 0; an ESC and a controller with a serial tell it by themselves. */
export type Part = `motor ${number}` | 'controller';

export const replacedSchema = z.record(z.string().max(20), z.number().int().min(1));
export type Replaced = Readonly<Record<string, number>>;

export const replacedCount = (replaced: Replaced, part: Part): number => replaced[part] ?? 0;

export const withReplaced = (replaced: Replaced, part: Part): Replaced => ({
  ...replaced,
  [part]: replacedCount(replaced, part) + 1,
});

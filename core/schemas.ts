/** Shapes of single values that kept records are made of, with their ranges. */
import * as z from 'zod';

export const bytesSchema = z.custom<Uint8Array>((v) => v instanceof Uint8Array, 'expected bytes');
export const outputSchema = z.number().int().min(0).max(15);
/** Epoch ms. */
export const timeSchema = z.number().min(0);
export const textSchema = z.string().max(10_000);
export const idSchema = z.string().min(1).max(200);

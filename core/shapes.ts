/** Shapes of single values that kept records are made of, with their ranges. */
import * as z from 'zod';

export const bytesShape = z.custom<Uint8Array>((v) => v instanceof Uint8Array, 'expected bytes');
export const outputShape = z.number().int().min(0).max(15);
/** Epoch ms. */
export const timeShape = z.number().min(0);
export const textShape = z.string().max(10_000);
export const idShape = z.string().min(1).max(200);

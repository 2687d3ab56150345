/** What a person measures on a flight beside its log, and how two flights differ in it. */
import * as z from 'zod';

const temperature = z.number().min(-40).max(250).optional();
export const notedSchema = z.object({
  /** Flight time, minutes. */
  minutes: z.number().min(0).max(600).optional(),
  /** Charge that went back into the battery, mAh. */
  chargeMah: z.number().min(0).max(100_000).optional(),
  /** Warmest ESC and motor after landing, °C. */
  escC: temperature,
  motorC: temperature,
});
export type Noted = z.infer<typeof notedSchema>;

export const notedFields: readonly {
  readonly field: keyof Noted;
  readonly name: string;
  readonly unit: string;
  readonly most: number;
}[] = [
  {field: 'minutes', name: 'Flight time', unit: 'min', most: 600},
  {field: 'chargeMah', name: 'Charge', unit: 'mAh', most: 100_000},
  {field: 'escC', name: 'Warmest ESC', unit: '°C', most: 250},
  {field: 'motorC', name: 'Warmest motor', unit: '°C', most: 250},
];

export interface NotedChange {
  readonly name: string;
  readonly unit: string;
  readonly before: number;
  readonly after: number;
}

/** What both flights have; charge is told per minute too, as flights are not equally long. */
export function notedChanges(before: Noted = {}, after: Noted = {}): NotedChange[] {
  const both = notedFields.flatMap(({field, name, unit}) => {
    const [a, b] = [before[field], after[field]];
    return a === undefined || b === undefined ? [] : [{name, unit, before: a, after: b}];
  });
  const rate = ({minutes, chargeMah}: Noted) => (minutes && chargeMah !== undefined ? chargeMah / minutes : undefined);
  const [a, b] = [rate(before), rate(after)];
  return a === undefined || b === undefined
    ? both
    : [...both, {name: 'Charge per minute', unit: 'mAh/min', before: a, after: b}];
}

/** What a person measures on a flight beside its log, and how two flights differ in it. */
import * as z from 'zod';

const temperature = {unit: '°C', least: -40, most: 250};
const ranges = {
  minutes: {name: 'Flight time', unit: 'min', least: 0, most: 600},
  /** What went back into the battery. */
  chargeMah: {name: 'Charge', unit: 'mAh', least: 0, most: 100_000},
  /** After landing. */
  escC: {name: 'Warmest ESC', ...temperature},
  motorC: {name: 'Warmest motor', ...temperature},
};
const within = ({least, most}: {readonly least: number; readonly most: number}) =>
  z.number().min(least).max(most).optional();
export const notedSchema = z.object({
  minutes: within(ranges.minutes),
  chargeMah: within(ranges.chargeMah),
  escC: within(ranges.escC),
  motorC: within(ranges.motorC),
});
export type Noted = z.infer<typeof notedSchema>;

export const notedFields = (['minutes', 'chargeMah', 'escC', 'motorC'] as const).map((field) => ({
  ...{field, ...ranges[field]},
}));

interface NotedChange {
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

/** Changes of one planned value: split per motor, set on some motors, joined again. */
import type {PlannedValue} from './craft';

/** One value per motor; motors that have none planned take what they hold, else the `fallback`. */
export function splitValue(
  planned: PlannedValue | undefined,
  held: readonly (number | undefined)[],
  fallback: number,
): PlannedValue {
  const values = held.map((value, i) => {
    if (planned?.kind === 'same') return planned.value;
    const own = planned?.kind === 'per motor' ? planned.values[i] : undefined;
    return own ?? value ?? fallback;
  });
  return {kind: 'per motor', values};
}

/** The plan with `value` on some motors; one value for all where that makes them equal. */
export function setOnMotors(
  planned: PlannedValue | undefined,
  {
    value,
    motors,
    held,
  }: {readonly value: number; readonly motors: readonly number[]; readonly held: readonly (number | undefined)[]},
): PlannedValue {
  const split = splitValue(planned, held, value);
  const values = split.kind === 'per motor' ? split.values.map((v, i) => (motors.includes(i) ? value : v)) : [];
  return joinValues(values);
}

/** Values per motor for another number of motors: motors beyond the old ones take what the last one had. */
export const fitToMotors = (planned: PlannedValue, motors: number): PlannedValue =>
  planned.kind === 'per motor'
    ? {
        kind: 'per motor',
        values: Array.from({length: motors}, (_, i) => planned.values[i] ?? planned.values.at(-1) ?? 0),
      }
    : planned;

export const joinValues = (values: readonly number[]): PlannedValue =>
  values.every((v) => v === values[0]) && values.length
    ? {kind: 'same', value: values[0]!}
    : {kind: 'per motor', values: [...values]};

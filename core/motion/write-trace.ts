/** A spin trace as CSV, the columns that read-trace.ts reads. */
import type {SpinTrace} from './trace';

const cell = (value: number, digits: number): string => (Number.isNaN(value) ? '' : value.toFixed(digits));

export function spinTraceCsv({timeS, volts, motors}: SpinTrace): string {
  const amps = motors.map((m) => m.amps);
  const named = (name: string) => motors.map((_, m) => `${name}_${m + 1}`);
  const header = [
    'time_s',
    ...named('throttle'),
    ...named('rpm'),
    ...(volts ? ['volts'] : []),
    ...named('amps').filter((_, m) => amps[m]),
  ];
  const rows = Array.from(timeS, (t, i) =>
    [
      t.toFixed(6),
      ...motors.map((m) => (100 * m.throttle[i]!).toFixed(2)),
      ...motors.map((m) => cell(m.rpm[i]!, 1)),
      ...(volts ? [cell(volts[i]!, 2)] : []),
      ...amps.flatMap((a) => (a ? [cell(a[i]!, 2)] : [])),
    ].join(','),
  );
  return [header.join(','), ...rows].join('\n') + '\n';
}

/** A simulated flight as the table that its controller exports. */
import type {WireConfig} from '@core/link/operations';
import type {FlightColumns} from './flight';

const axes = ['roll', 'pitch', 'yaw'];

/**
 * @param notes lines at the top, each behind a #. The controller writes what it was flown with there too.
 */
export function flightCsv(f: FlightColumns, notes: readonly string[], config: WireConfig): string {
  const motors = f.motors.map((_, m) => m + 1);
  const replies = f.erpm.length > 0;
  const header = [
    'time_us',
    'throttle_pct',
    ...axes.map((a) => `gyro_${a}`),
    ...axes.map((a) => `filtered_${a}`),
    ...axes.map((a) => `setpoint_${a}`),
    ...(replies ? motors.map((m) => `erpm_${m}`) : []),
    ...motors.map((m) => `motor_${m}`),
    ...(replies ? motors.map((m) => `lost_${m}`) : []),
    'volts',
    'amps',
  ];
  const rows = [...notes.map((note) => `# ${note}`), `# flown with ${JSON.stringify(config)}`, header.join(',')];
  for (let i = 0; i < f.throttle.length; i++)
    rows.push(
      [
        Math.round((i * 1e6) / f.logHz),
        f.throttle[i]!.toFixed(1),
        ...f.gyro.map((g) => g[i]!.toFixed(1)),
        ...f.filtered.map((g) => g[i]!.toFixed(1)),
        ...f.wanted.map((w) => w[i]!.toFixed(0)),
        ...f.erpm.map((e) => e[i]!),
        ...f.motors.map((d) => d[i]!.toFixed(0)),
        ...f.errors.map((e) => e[i]!),
        f.volts[i]!.toFixed(1),
        f.amps[i]!.toFixed(1),
      ].join(','),
    );
  return `${rows.join('\n')}\n`;
}

import {axes, readFlightLog, type Axis} from '@core/noise/flight-log';
import {strongestPeaks} from '@core/noise/peaks';
import {findPoleCount} from '@core/noise/pole-count';
import {decibels, welch} from '@core/noise/welch';

const segment = 1024;

/** Sample rate, spectra at asked frequencies and strongest peaks of a flight log. */
export function describeNoise(text: string, options: ReadonlyMap<string, string>): {ok: boolean; value: unknown} {
  const fail = (code: string, message: string) => ({ok: false, value: {error: {code, message}}});
  const poles = Number(options.get('--poles'));
  if (!Number.isInteger(poles) || poles < 2 || poles > 60 || poles % 2)
    return fail('poles', '--poles is an even number from 2 to 60.');
  const wanted = options.has('--at') ? options.get('--at')!.split(',').map(Number) : [];
  const onlyAxis = options.get('--axis');
  if (onlyAxis !== undefined && !axes.includes(onlyAxis as Axis)) return fail('axis', '--axis is roll, pitch or yaw.');
  const log = readFlightLog(text);
  if (!log.ok) return fail(log.problem.code, `${log.problem.place}: ${log.problem.meaning} ${log.problem.remedy}`);
  const {sampleRateHz, durationS, gyro, erpm, notes} = log.value;
  const outside = wanted.find((hz) => !(hz >= 0 && hz <= sampleRateHz / 2));
  if (outside !== undefined) return fail('at', `--at takes frequencies from 0 to ${sampleRateHz / 2} Hz.`);
  const shown = axes.filter((a) => !onlyAxis || a === onlyAxis);
  const spectra = Object.fromEntries(shown.map((a) => [a, spectrumOf(gyro[a], sampleRateHz, wanted)]));
  const verdict = findPoleCount({gyro: gyro.roll, sampleRateHz, erpm, plannedPoles: poles});
  const speedRatio =
    verdict.kind === 'found'
      ? {ratio: verdict.ratio, fittingPoles: verdict.poles, prominenceDb: verdict.prominenceDb}
      : null;
  return {
    ok: true,
    value: {
      sampleRateHz,
      durationS,
      samples: gyro.roll.length,
      motors: erpm.length,
      unit: '(deg/s)^2/Hz',
      window: 'hann',
      segment,
      spectra,
      speedRatio,
      notes,
    },
  };
}

/** Density at the bins next to `wanted`, Hz, and the strongest peaks. */
function spectrumOf(gyro: Float64Array, sampleRateHz: number, wanted: readonly number[]) {
  const spectrum = welch(gyro, sampleRateHz, segment);
  const at = wanted.map((hz) => {
    const bin = Math.round(hz / spectrum.stepHz);
    const density = spectrum.density[bin]!;
    return {hz, binHz: bin * spectrum.stepHz, density, db: decibels(density)};
  });
  return {at, peaks: strongestPeaks(spectrum)};
}

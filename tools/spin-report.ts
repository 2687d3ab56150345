import {readSpinTrace} from '@core/motion/read-trace';
import {reportOn} from '@core/motion/report';
import {reportJson} from '@core/motion/report-json';

/** What a spin trace says, as JSON: motors counted from 1, what it cannot tell null with the reason. */
export function describeSpin(text: string, options: ReadonlyMap<string, string>): {ok: boolean; value: unknown} {
  const fail = (code: string, message: string) => ({ok: false, value: {error: {code, message}}});
  const poles = options.has('--poles') ? Number(options.get('--poles')) : undefined;
  if (poles !== undefined && (!Number.isInteger(poles) || poles < 2 || poles > 60 || poles % 2))
    return fail('poles', '--poles is an even number from 2 to 60.');
  const volts = options.has('--volts') ? Number(options.get('--volts')) : undefined;
  if (volts !== undefined && !(volts > 0 && volts <= 1000)) return fail('volts', '--volts is above 0, up to 1000.');
  const trace = readSpinTrace(text, {poles, volts});
  if (!trace.ok) {
    const {code, place, meaning, remedy} = trace.problem;
    return fail(code, `${place}: ${meaning} ${remedy}`);
  }
  return {ok: true, value: reportJson(reportOn(trace.value, {poles}), trace.value.notes)};
}

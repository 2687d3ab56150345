/** What a spin trace says: `bidex spin`. */
import {readSpinTrace} from '@core/motion/read-trace';
import {reportOn} from '@core/motion/report';
import {reportJson} from '@core/motion/report-json';
import {fail, failed, outcome, polesOf, readText, type Answer, type Run} from './command';

export const run: Run = ({file, options}) => outcome(describeSpin(readText(file), options));

/** What a spin trace says, as JSON: motors counted from 1, what it cannot tell null with the reason. */
export function describeSpin(text: string, options: ReadonlyMap<string, string>): Answer {
  const poles = polesOf(options.get('--poles'));
  if (options.has('--poles') && poles === undefined) return fail('poles', '--poles is an even number from 2 to 60.');
  const volts = options.has('--volts') ? Number(options.get('--volts')) : undefined;
  if (volts !== undefined && !(volts > 0 && volts <= 1000)) return fail('volts', '--volts is above 0, up to 1000.');
  const trace = readSpinTrace(text, {poles, volts});
  if (!trace.ok) return failed(trace.problem);
  return {ok: true, value: reportJson(reportOn(trace.value, {poles}), trace.value.notes)};
}

import type {Answer} from '@core/motion/answer';
import {readSpinTrace} from '@core/motion/read-trace';
import {reportOn, type MotorReport} from '@core/motion/report';

const measured = ['startsAtPercent', 'spoolUpS', 'coastDownS', 'kv', 'resistanceOhm', 'inertia'] as const;

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
  const {motors, oddOnes, findings} = reportOn(trace.value, {poles});
  return {
    ok: true,
    value: {
      motors: motors.map(described),
      oddOnes: oddOnes.map(({motor, what, value, usual}) => ({motor: motor + 1, what, value, usual})),
      findings: findings.map((f) => ({...f, motor: f.motor + 1})),
      notes: trace.value.notes,
    },
  };
}

function described(motor: MotorReport) {
  const answers = measured.map((key) => [key, motor[key]] as const);
  const own = (pick: (answer: Answer) => unknown) =>
    Object.fromEntries(answers.flatMap(([key, answer]) => (pick(answer) === undefined ? [] : [[key, pick(answer)]])));
  return {
    ...Object.fromEntries(answers.map(([key, {value}]) => [key, value ?? null])),
    stutters: motor.stutters,
    desyncs: motor.desyncs,
    bounds: own((a) => (a.value === undefined ? undefined : [a.low, a.high])),
    reasons: own((a) => (a.value === undefined ? a.reason : undefined)),
  };
}

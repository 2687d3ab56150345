/** What a trace says as JSON: motors counted from 1, what it cannot tell null with the reason. */
import type {Answer} from './answer';
import type {MotionReport, MotorReport} from './report';

const measured = ['startsAtPercent', 'spoolUpS', 'coastDownS', 'kv', 'resistanceOhm', 'inertia'] as const;

export const reportJson = ({motors, oddOnes, findings}: MotionReport, notes: readonly string[]) => ({
  motors: motors.map(described),
  oddOnes: oddOnes.map(({motor, what, value, usual}) => ({motor: motor + 1, what, value, usual})),
  findings: findings.map((f) => ({...f, motor: f.motor + 1})),
  notes,
});

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

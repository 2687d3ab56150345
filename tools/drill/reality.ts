/**
 * What is wrong on a craft without anybody knowing, and what of it a proof denies. Read from the simulator alone: nothing that
 * judges is asked.
 */
import type {Craft} from '@core/craft/craft';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {PowerTrain} from '@simulator/hardware/esc/power-train';
import {transmitterSticks} from '@simulator/hardware/hands/transmitter';
import type {Random} from '@simulator/random';
import type {MeasuredKind} from './measuring';

/** A reply in so many that is spoilt is seen among the ten thousands that are counted. */
const noticeable = 2e-3;
/** A board that sits otherwise than it is set by less is one that a hand cannot tell, degrees. */
const maxMountingDeg = 16;
/** Labels and measurements together are off by less than this, relative. */
const maxKvOff = 0.2;

type Hide = (bench: SimulatedBench, random: Random) => void;
const anyOutput = (bench: SimulatedBench, random: Random) => random.below(bench.escs.length);

/** Faults that no survey reads. */
const faults: readonly Hide[] = [
  ({train}, random) => {
    const all = train.outputs.map((_, output) => output);
    const shift = 1 + random.below(all.length - 1);
    const kinds = [all.map((i) => (i + shift) % all.length), all.map(() => 0), all.map((i) => (i === 1 ? 0 : i))];
    train.replyFrom = kinds[random.below(kinds.length)]!;
  },
  (bench, random) => {
    const output = anyOutput(bench, random);
    bench.train.changeMotor(output, {cogging: 10});
  },
  ({train}, random) => {
    const poles = random.next() < 0.5 ? 12 : 16;
    train.outputs.forEach((_, output) => train.mountMotor(output, poles));
  },
  (bench, random) => {
    const output = anyOutput(bench, random);
    const {kv} = bench.train.outputs[output]!.motor.constants;
    bench.train.changeMotor(output, {kv: kv * (random.next() < 0.5 ? 0.7 : 1.35)});
  },
  ({train}, random) => (train.wireNoise = noticeable * (1 + 10 * random.next())),
  ({cockpit}, random) =>
    (cockpit.hand.mounted = {roll: 0, pitch: 0, yaw: [90, 180, -90, 45, 22, -27][random.below(6)]!}),
  ({cockpit}) => (cockpit.hand.mounted = {roll: 180, pitch: 0, yaw: 0}),
  ({cockpit: {transmitter}}, random) => {
    const turned = random.next() < 0.5;
    transmitter.model = {
      channel: turned ? {roll: 2, pitch: 1, throttle: 3, yaw: 4} : transmitter.model.channel,
      reversed: turned ? [] : [transmitterSticks[random.below(4)]!],
    };
  },
  // Ends that are not reached, and ends that reach further: those are right.
  ({cockpit: {transmitter}}, random) => {
    const short = random.next() < 0.7 ? 1 : -1;
    const [low, high] = [0, 0].map(() => short * (12 + random.below(20))) as [number, number];
    transmitter.ends = {...transmitter.ends, lowUs: 1000 + low, highUs: 2000 - high};
  },
  ({controller}, random) => {
    const wrong = [
      {action: 'hold', afterMs: 400},
      {action: 'land', afterMs: 400},
      {action: 'drop', afterMs: 1_500},
    ] as const;
    controller.set({failSafe: wrong[random.below(wrong.length)]!});
    controller.save();
    controller.restart();
  },
];

/** Hides one or two faults, now and then none. */
export function hideFaults(bench: SimulatedBench, random: Random): void {
  for (let left = random.below(3); left > 0; left--) faults[random.below(faults.length)]!(bench, random);
}

/** What a proof that holds says and is not so, in words; undefined where it may be right. */
export function deniedBy(kind: MeasuredKind, bench: SimulatedBench, craft: Craft): string | undefined {
  return denials[kind](bench, craft);
}

const denials: Readonly<Record<MeasuredKind, (bench: SimulatedBench, craft: Craft) => string | undefined>> = {
  replies({train, controller, escs}) {
    if (isCrossed(train)) return 'replies are crossed';
    if (!controller.running.replies) return 'replies are off';
    if (train.wireNoise >= noticeable) return `one of ${Math.round(1 / train.wireNoise)} replies is corrupted`;
    if (train.outputs.some((o) => o.motor.constants.cogging >= 10)) return 'a motor is blocked';
    return escs.some((e) => !e.repliesToDshot) ? 'an ESC cannot reply' : undefined;
  },
  motion({train}, {motor}) {
    if (isCrossed(train)) return 'replies are crossed';
    const of = train.outputs.map((o) => o.motor.constants);
    if (of.some((m) => m.cogging >= 10)) return 'a motor is blocked';
    const other = of.find((m) => m.poles !== motor.poles);
    if (other) return `a motor has ${other.poles} poles`;
    const off = of.find((m) => Math.abs(m.kv / motor.kv - 1) > maxKvOff);
    return off && `a motor has ${off.kv} rpm/V`;
  },
  mounting({controller, cockpit}) {
    const set = controller.running.mounting ?? {roll: 0, pitch: 0, yaw: 0};
    const off = apartDeg(set, cockpit.hand.mounted);
    return off > maxMountingDeg ? `the board sits otherwise by ${off.toFixed(0)}°` : undefined;
  },
  receiver({controller, cockpit: {transmitter}}) {
    const {receiver} = controller.running;
    const {channel, reversed} = transmitter.model;
    if (reversed.length) return `${reversed[0]} is the wrong way round`;
    const other = transmitterSticks.find((stick) => receiver && channel[stick] !== receiver[stick]);
    if (other) return `${other} is channel ${channel[other]}`;
    const {lowUs, highUs} = transmitter.ends;
    const short = Math.max(lowUs - 1000, 2000 - highUs);
    return short > 8 ? `an end is not reached by ${short} µs` : undefined;
  },
  'fail-safe'({controller, train}) {
    if (isCrossed(train)) return 'replies are crossed';
    const {action, afterMs} = controller.running.failSafe ?? {action: 'drop', afterMs: 400};
    if (action !== 'drop') return `the fail-safe is "${action}"`;
    return afterMs > 1_000 ? `it acts after ${afterMs} ms` : undefined;
  },
};

const isCrossed = ({outputs, replyFrom}: PowerTrain): boolean =>
  outputs.some((_, output) => (replyFrom[output] ?? output) !== output);

type Angles = {readonly roll: number; readonly pitch: number; readonly yaw: number};
const radians = Math.PI / 180;

/** Angle of the turn from one mounting to another, degrees: of quaternions, with no part of core. */
function apartDeg(a: Angles, b: Angles): number {
  const [p, q] = [quaternion(a), quaternion(b)];
  const dot = Math.abs(p.reduce((sum, v, i) => sum + v * q[i]!, 0));
  return (2 * Math.acos(Math.min(1, dot))) / radians;
}

/** Yaw, then pitch, then roll. */
function quaternion({roll, pitch, yaw}: Angles): readonly number[] {
  const half = (deg: number) => [Math.cos((deg * radians) / 2), Math.sin((deg * radians) / 2)] as const;
  const [[cr, sr], [cp, sp], [cy, sy]] = [half(roll), half(pitch), half(yaw)];
  return [
    cr * cp * cy + sr * sp * sy,
    sr * cp * cy - cr * sp * sy,
    cr * sp * cy + sr * cp * sy,
    cr * cp * sy - sr * sp * cy,
  ];
}

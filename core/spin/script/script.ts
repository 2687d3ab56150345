/** What a hold does by itself: throttle over time for one or all motors. */
import * as z from 'zod';

const throttle = z.number().min(0).max(1);

/** A stretch in which throttle goes evenly from one value to another; a step where `seconds` is 0. */
const segmentSchema = z.object({
  seconds: z.number().min(0).max(120),
  from: throttle,
  to: throttle,
  /** Output that turns alone while the others stand; all turn where it is absent. */
  alone: z.number().int().min(0).max(15).optional(),
});
export type Segment = z.infer<typeof segmentSchema>;

export const scriptSchema = z.object({
  name: z.string().min(1).max(40),
  segments: z.array(segmentSchema).min(1).max(400),
});
export type Script = z.infer<typeof scriptSchema>;

const hold = (seconds: number, at: number): Segment => ({seconds, from: at, to: at});
const ramp = (seconds: number, from: number, to: number): Segment => ({seconds, from, to});

export const durationOf = ({segments}: Script): number => segments.reduce((sum, s) => sum + s.seconds, 0);
export const highestOf = ({segments}: Script): number => Math.max(...segments.flatMap((s) => [s.from, s.to]));

/** Throttle at a time, s, and the output that has it alone; 0 after the end. */
export function commandAt({segments}: Script, atS: number): {readonly throttle: number; readonly alone?: number} {
  let begun = 0;
  for (const {seconds, from, to, alone} of segments) {
    if (atS < begun + seconds)
      return {throttle: from + ((to - from) * (atS - begun)) / seconds, ...(alone !== undefined && {alone})};
    begun += seconds;
  }
  return {throttle: 0};
}

export const throttleAt = (script: Script, atS: number): number => commandAt(script, atS).throttle;

/** No value above the cap: what goes beyond is held at it. */
export const cappedAt = (script: Script, cap: number): Script => ({
  ...script,
  segments: script.segments.map((s) => ({...s, from: Math.min(cap, s.from), to: Math.min(cap, s.to)})),
});

/** Throttle at which motors turn without hurry: the planned idle, and never so little that one stops. */
export const lowOf = (idle: number): number => Math.max(0.05, idle);

/** One speed for a while. */
export const steady = (seconds: number, at: number): Script => ({name: 'steady', segments: [hold(seconds, at)]});

/** Evenly from one throttle to another. */
export const rampScript = (seconds: number, from: number, to: number): Script => ({
  name: 'ramp',
  segments: [ramp(seconds, from, to)],
});

/** Up from idle in a step, held, and cut, as often as asked. */
export function stepsAndCuts(idle: number, top: number, times: number): Script {
  const low = lowOf(idle);
  const once = [hold(0.35, low), hold(0.35, top), hold(0.35, 0)];
  return {name: 'steps and cuts', segments: [hold(0.4, low), ...Array.from({length: times}, () => once).flat()]};
}

/** Short pulses from idle. */
export function pulseTrain(idle: number, top: number, times: number): Script {
  const low = lowOf(idle);
  const pulses = Array.from({length: times}, () => [hold(0.12, top), hold(0.18, low)]);
  return {name: 'pulse train', segments: [hold(0.5, low), ...pulses.flat()]};
}

/** Slowly through the range and back. */
export function sweep(idle: number, top: number, seconds: number): Script {
  const low = lowOf(idle);
  return {name: 'sweep', segments: [hold(0.4, low), ramp(seconds / 2, low, top), ramp(seconds / 2, top, low)]};
}

/** Each motor by itself, up to the top and held there, for so many seconds each. */
export function eachAlone(idle: number, top: number, {seconds, motors}: {seconds: number; motors: number}): Script {
  const up = Math.min(0.2, seconds / 3);
  const turn = (alone: number) => [ramp(up, lowOf(idle), top), hold(seconds - up, top)].map((s) => ({...s, alone}));
  return {name: 'each alone', segments: Array.from({length: motors}, (_, motor) => turn(motor)).flat()};
}

/** Ramps and steps in turn, to load replies and supply. */
export function stress(idle: number, top: number, rounds: number): Script {
  const low = lowOf(idle);
  const round = [
    ramp(1.2, low, top),
    hold(0.4, top),
    hold(0.3, low),
    hold(0.3, top),
    hold(0.3, low),
    ramp(0.8, top, low),
  ];
  return {name: 'stress', segments: [hold(0.5, low), ...Array.from({length: rounds}, () => round).flat()]};
}

/**
 * Everything a motor card is fitted from, in under five seconds: a slow climb to the start, two steps small enough that no current limit acts, a
 * sweep, and a cut at the end.
 */
export function cardScript(idle: number, top: number): Script {
  const low = lowOf(idle);
  const middle = low + 0.4 * (top - low);
  return {
    name: 'motor card',
    segments: [
      ramp(0.9, 0.008, low),
      hold(0.3, low),
      hold(0.25, middle),
      hold(0.2, low),
      hold(0.25, top),
      hold(0.35, 0),
      hold(0.35, low),
      hold(0.3, middle),
      ramp(0.9, low, top),
      hold(0.2, top),
      hold(0.4, 0),
    ],
  };
}

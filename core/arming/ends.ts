/** Ends, centre and noise of a channel over sweeps of its stick, held against what a controller expects. */
import {median} from '../numbers/median';

/** What a controller expects of every stick, µs (trade fact: ends reach 1000 and 2000, some go further; centre 1500). */
const wantedUs = {low: 1000, centre: 1500, high: 2000} as const;
/** Off by more than this an end or the centre is worth a change on the transmitter, and trembling a dead band, µs. */
export const offUs = 2;
/** A centre that trembles by no more gets this dead band, µs (trade fact). */
const usualDeadBandUs = 2;
/** For more trembling it is that much wider than what was seen: the next second may tremble a little more. */
const deadBandMargin = 1.5;
/** A stick's whole travel is 1000 µs (trade fact); less than this is no sweep, however often it goes there and back, µs. */
export const minTravelUs = 400;
/** Sweeps from end to end that ends are told from. */
export const minSweeps = 3;
/** Frames at rest that a centre and its noise are told from. */
export const minRestFrames = 50;

export interface ChannelEnds {
  readonly low: number;
  readonly centre: number;
  readonly high: number;
  /** Sweeps from one end to the other. */
  readonly sweeps: number;
  /** Largest move away from the centre while the stick was let go, µs. */
  readonly noiseUs: number;
  /** Frames at rest that centre and noise were read from. */
  readonly restFrames: number;
}

/** @param swept pulses while the stick went from end to end. @param rest pulses while it was let go, at its centre. */
export function channelEnds(swept: readonly number[], rest: readonly number[]): ChannelEnds {
  const centre = median(rest);
  const spread = deviation(rest);
  const low = endOf(swept, spread);
  const high = -endOf(
    swept.map((v) => -v),
    spread,
  );
  return {
    ...{low, high, centre, restFrames: rest.length},
    sweeps: high - low < minTravelUs ? 0 : sweepsIn(swept, low, high),
    noiseUs: rest.reduce((most, v) => Math.max(most, Math.abs(v - centre)), 0),
  };
}

/**
 * Where a stick comes to a stop, as the middle of all pulses there: the very lowest is the one that trembled farthest.
 * @param spread standard deviation of the trembling, µs: what lies within four of it above the lowest belongs to the stop.
 */
function endOf(values: readonly number[], spread: number): number {
  const lowest = values.reduce((a, b) => Math.min(a, b), Infinity);
  return values.length ? median(values.filter((v) => v <= lowest + 4 * spread)) : NaN;
}

function deviation(values: readonly number[]): number {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return values.length ? Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length) : 0;
}

/** Goings from the lower quarter to the upper one or back. */
function sweepsIn(values: readonly number[], low: number, high: number): number {
  let [side, sweeps] = [0, 0];
  for (const v of values) {
    const now = v < low + (high - low) / 4 ? -1 : v > high - (high - low) / 4 ? 1 : 0;
    if (now === 0 || now === side) continue;
    if (side !== 0) sweeps++;
    side = now;
  }
  return sweeps;
}

export interface EndAdvice {
  /** Whether the channel is as a controller expects it: its ends are reached, its centre is there. */
  readonly isRight: boolean;
  /** Ends that go beyond what has to be reached, as sentences: they are right. */
  readonly further: readonly string[];
  /** What to change on the transmitter, each a whole sentence; empty where nothing. */
  readonly onTransmitter: readonly string[];
  /** Dead band that the noise at the centre asks for, µs: planned here. */
  readonly deadBandUs: number;
  /** What is missing for a verdict; undefined where enough was seen. */
  readonly missing: string | undefined;
}

/**
 * Ends and centre belong to the transmitter: a controller can only bend what comes.
 * `hasCentre`: false for a throttle, which stays where it is left.
 */
export function adviseEnds(
  {low, centre, high, sweeps, noiseUs, restFrames}: ChannelEnds,
  {hasCentre}: {readonly hasCentre: boolean} = {hasCentre: true},
): EndAdvice {
  const deadBandUs =
    noiseUs > usualDeadBandUs ? Math.ceil(noiseUs * deadBandMargin) : noiseUs > 0 ? usualDeadBandUs : 0;
  const missing =
    sweeps < minSweeps
      ? `Sweep the stick from end to end ${minSweeps - sweeps} more ${minSweeps - sweeps === 1 ? 'time' : 'times'}.`
      : restFrames < minRestFrames
        ? 'Let the stick go for a second.'
        : undefined;
  // An end that is not reached comes too short by so much, µs; negative where it reaches further.
  const ends = [
    {name: 'low end', is: low, wanted: wantedUs.low, short: low - wantedUs.low},
    {name: 'high end', is: high, wanted: wantedUs.high, short: wantedUs.high - high},
  ];
  const change = (name: string, is: number, wanted: number) =>
    `Set its ${name} to ${wanted} µs: it is ${is.toFixed(0)} µs, ${Math.abs(is - wanted).toFixed(0)} too ${is > wanted ? 'much' : 'little'}.`;
  const onTransmitter = [
    ...ends.flatMap(({name, is, wanted, short}) => (short > offUs ? [change(name, is, wanted)] : [])),
    ...(hasCentre && Math.abs(centre - wantedUs.centre) > offUs ? [change('centre', centre, wantedUs.centre)] : []),
  ];
  const further = ends.flatMap(({name, short}) =>
    short < -offUs ? [`Its ${name} reaches further by ${(-short).toFixed(0)} µs: that is right.`] : [],
  );
  const isRight = !missing && !onTransmitter.length;
  return {isRight, further: missing ? [] : further, onTransmitter: missing ? [] : onTransmitter, deadBandUs, missing};
}

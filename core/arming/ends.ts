/** Ends, centre and noise of a channel over sweeps of its stick, held against what a controller expects. */

/** What a controller expects of every stick, µs (trade fact: ends exactly 1000 and 2000, centre 1500). */
export const wantedUs = {low: 1000, centre: 1500, high: 2000} as const;
/** Off by more than this an end or the centre is worth a change on the transmitter, and trembling a dead band, µs. */
const offUs = 2;
/** Sweeps from end to end that ends are told from. */
export const leastSweeps = 3;
/** Frames at rest that a centre and its noise are told from. */
export const leastRestFrames = 50;

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
  const low = swept.reduce((a, b) => Math.min(a, b), Infinity);
  const high = swept.reduce((a, b) => Math.max(a, b), -Infinity);
  const centre = middle(rest);
  return {
    ...{low, high, centre, sweeps: sweepsIn(swept, low, high), restFrames: rest.length},
    noiseUs: rest.reduce((most, v) => Math.max(most, Math.abs(v - centre)), 0),
  };
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

const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? NaN;

export interface EndAdvice {
  /** Whether the channel is as a controller expects it. */
  readonly isRight: boolean;
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
  const deadBandUs = noiseUs > offUs ? Math.ceil(noiseUs) : 0;
  const missing =
    sweeps < leastSweeps
      ? `Sweep the stick from end to end ${leastSweeps - sweeps} more ${leastSweeps - sweeps === 1 ? 'time' : 'times'}.`
      : restFrames < leastRestFrames
        ? 'Let the stick go for a second.'
        : undefined;
  const change = (name: string, is: number, wanted: number) =>
    Math.abs(is - wanted) > offUs
      ? [
          `Set its ${name} to ${wanted} µs: it is ${is.toFixed(0)} µs, ${Math.abs(is - wanted).toFixed(0)} too ${is > wanted ? 'much' : 'little'}.`,
        ]
      : [];
  const onTransmitter = [
    ...change('low end', low, wantedUs.low),
    ...(hasCentre ? change('centre', centre, wantedUs.centre) : []),
    ...change('high end', high, wantedUs.high),
  ];
  return {isRight: !missing && !onTransmitter.length, onTransmitter: missing ? [] : onTransmitter, deadBandUs, missing};
}

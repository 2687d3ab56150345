/** Which channel is which stick, from four moves of a hand: roll right, pitch forward, throttle up, yaw right. */

export const sticks = ['roll', 'pitch', 'throttle', 'yaw'] as const;
export type Stick = (typeof sticks)[number];

/** How each stick is moved so that its pulse should grow. */
export const stickMoves: Readonly<Record<Stick, string>> = {
  roll: 'the roll stick all the way to the right and back',
  pitch: 'the pitch stick all the way up the transmitter, so that the nose would go down, and back',
  throttle: 'the throttle from the bottom to the top and back',
  yaw: 'the yaw stick all the way to the right and back',
};

/** Pulses of every channel while one stick was moved, µs: frame by frame, each as many channels as there are. */
export type Frames = readonly (readonly number[])[];

export interface FoundChannels {
  readonly kind: 'found';
  /** Counted from 1, as people count channels. */
  readonly channel: Readonly<Record<Stick, number>>;
  /** Sticks whose pulse falls where it should grow: best turned over on the transmitter. */
  readonly reversed: readonly Stick[];
  /** The least of how many times further a stick's channel moved than any other: the larger, the surer. */
  readonly clarity: number;
}
export interface NoChannels {
  readonly kind: 'unclear';
  readonly stick: Stick;
  /** A whole sentence with what to do. */
  readonly why: string;
}

/** A full move of a stick is 500 µs; less than this is none, µs. */
const minMoveUs = 250;
/** A mixed channel moves along by less than this share. */
const minClarity = 2.5;

export function findChannels(moves: Readonly<Record<Stick, Frames>>): FoundChannels | NoChannels {
  const channel: Partial<Record<Stick, number>> = {};
  const reversed: Stick[] = [];
  let clarity = Infinity;
  for (const stick of sticks) {
    const moved = movesOf(moves[stick]);
    const [first, second] = [...moved].sort((a, b) => Math.abs(b.by) - Math.abs(a.by));
    if (!first || Math.abs(first.by) < minMoveUs)
      return unclear(
        stick,
        `No channel moved by more than ${Math.abs(first?.by ?? 0).toFixed(0)} µs: move ${stickMoves[stick]}.`,
      );
    const ratio = Math.abs(first.by) / Math.max(1, Math.abs(second?.by ?? 0));
    if (ratio < minClarity)
      return unclear(
        stick,
        `Channels ${first.channel} and ${second!.channel} moved together: move this stick alone, and take mixes off the transmitter.`,
      );
    const twice = sticks.find((s) => channel[s] === first.channel);
    if (twice)
      return unclear(
        stick,
        `Channel ${first.channel} moved here, and it is ${twice} already: move ${stickMoves[stick]}.`,
      );
    channel[stick] = first.channel;
    if (first.by < 0) reversed.push(stick);
    clarity = Math.min(clarity, ratio);
  }
  return {kind: 'found', channel: channel as Record<Stick, number>, reversed, clarity};
}

const unclear = (stick: Stick, why: string): NoChannels => ({kind: 'unclear', stick, why});

/** How far each channel went from where it began, with its sign: the end that it came to first counts. */
function movesOf(frames: Frames): {channel: number; by: number}[] {
  const [first] = frames;
  return (first ?? []).map((start, c) => {
    const values = frames.map((f) => f[c]!);
    const [up, down] = [Math.max(...values) - start, start - Math.min(...values)];
    return {channel: c + 1, by: up >= down ? up : -down};
  });
}

/** Wires with one pulse a loop, whose length is the throttle: which kind, by the lengths that come. */

export type PulseKind = 'analog' | 'oneshot125' | 'oneshot42' | 'multishot';

/** Shortest and longest pulse of each kind, µs (trade terms: 1000–2000, its eighth, its 24th, 5–25), with a little to spare. */
const lengths: readonly (readonly [PulseKind, number, number])[] = [
  ['analog', 900, 2100],
  ['oneshot125', 112, 262],
  ['oneshot42', 38, 88],
  ['multishot', 4, 27],
];
/** This share of the pulses has to fit. */
const mostFit = 0.95;

/** @param lead index of the first edge that leaves the level at rest. */
export function pulseKind(edges: Float64Array, lead: number): PulseKind | undefined {
  const pulses: number[] = [];
  for (let i = lead; i + 1 < edges.length; i += 2) pulses.push((edges[i + 1]! - edges[i]!) * 1e6);
  return lengths.find(
    ([, shortest, longest]) =>
      pulses.length > 0 && pulses.filter((us) => us >= shortest && us <= longest).length >= mostFit * pulses.length,
  )?.[0];
}

/** How often an analyser looked: all edges of a wire lie on the grid of its samples. */

/** So many spans tell the grid; a wire with fewer is not judged. */
const [fewest, most] = [32, 4000];
/** A span lies on the grid where it is off by less than this share of a step; this share of them has to. */
const [offGrid, onGrid] = [0.05, 0.99];
/** Finer grids are rounding of numbers, not samples, s. */
const finestS = 2e-9;

/** Time between two samples, s; undefined where no grid shows, or one too fine to matter. */
export function timeGrid(edges: Float64Array): number | undefined {
  const spans = Float64Array.from(edges.subarray(1, most + 1), (edge, i) => edge - edges[i]!);
  if (spans.length < fewest) return undefined;
  const sorted = [...spans].sort((a, b) => a - b);
  // Neighbouring lengths are a step apart, or the same but for the rounding of numbers.
  let stepS = sorted[0]!;
  for (let i = 1; i < sorted.length; i++) {
    const apart = sorted[i]! - sorted[i - 1]!;
    if (apart > finestS) stepS = Math.min(stepS, apart);
  }
  if (stepS <= finestS) return undefined;
  const on = spans.filter((span) => Math.abs(span / stepS - Math.round(span / stepS)) < offGrid).length;
  return on >= onGrid * spans.length ? stepS : undefined;
}

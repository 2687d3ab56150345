/** Pulses too short to be a bit of any protocol: counted, and taken out of the edges. */

/** Shorter pulses are glitches, s: under 200 ns, and no rounding of two times makes one of 200 shorter. */
export const glitchS = 199.9e-9;

export interface Cleaned {
  readonly edges: Float64Array;
  readonly glitches: number;
}

/**
 * Of edges that crowd together as few pairs go as leave none closer than {@link glitchS}, each pair one glitch: so a pulse that
 * a glitch fell into keeps its two edges. Of equally few the pairs that are closest. Where nobody can tell which of three is the
 * edge, it lies in their middle.
 */
export function withoutGlitches(edges: Float64Array): Cleaned {
  if (!hasCrowd(edges)) return {edges, glitches: 0};
  const kept = new Float64Array(edges.length);
  let [count, glitches] = [0, 0];
  for (let i = 0; i < edges.length;) {
    let end = i + 1;
    while (end < edges.length && edges[end]! - edges[end - 1]! < glitchS) end++;
    if (end - i === 1) kept[count++] = edges[i]!;
    else {
      const crowd = thinned([...edges.subarray(i, end)]);
      glitches += (end - i - crowd.length) / 2;
      for (const time of crowd) kept[count++] = time;
    }
    i = end;
  }
  return {edges: kept.slice(0, count), glitches};
}

/** Most wires have none: then nothing is copied. */
function hasCrowd(edges: Float64Array): boolean {
  for (let i = 1; i < edges.length; i++) if (edges[i]! - edges[i - 1]! < glitchS) return true;
  return false;
}

/** Of longer crowds the closest pairs go, one after the other. */
const mostTried = 9;

function thinned(crowd: readonly number[]): readonly number[] {
  const [first, last] = [crowd[0]!, crowd.at(-1)!];
  if (crowd.length === 3 && last - first < glitchS) return [(first + last) / 2];
  if (crowd.length > mostTried) return thinned(withoutPair(crowd, closest(crowd)));
  let tried: readonly Tried[] = [{edges: crowd, taken: 0}];
  for (;;) {
    const good = tried.filter(({edges}) => isApart(edges)).sort((a, b) => a.taken - b.taken)[0];
    if (good) return good.edges;
    tried = tried.flatMap(({edges, taken}) =>
      edges.slice(1).map((edge, i) => ({edges: withoutPair(edges, i), taken: taken + edge - edges[i]!})),
    );
  }
}

interface Tried {
  readonly edges: readonly number[];
  /** Length of the pulses that were taken out, s. */
  readonly taken: number;
}

const isApart = (edges: readonly number[]): boolean => edges.every((e, i) => i === 0 || e - edges[i - 1]! >= glitchS);
const withoutPair = (edges: readonly number[], at: number): number[] => [...edges.slice(0, at), ...edges.slice(at + 2)];
const closest = (edges: readonly number[]): number =>
  edges.slice(1).reduce((best, edge, i) => (edge - edges[i]! < edges[best + 1]! - edges[best]! ? i : best), 0);

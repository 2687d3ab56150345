/** Pulses too short to be a bit of any protocol: counted, and taken out of the edges. */
import TinyQueue from 'tinyqueue';

/** Shorter pulses are glitches, s: under 200 ns, and no rounding of two times makes one of 200 shorter. */
export const glitchS = 199.9e-9;

interface Cleaned {
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

/** Of longer crowds the closest pairs go first, one after the other, until so many edges are left. */
const maxTried = 9;

function thinned(crowd: readonly number[]): readonly number[] {
  if (crowd.length > maxTried) return parts(withoutClosest(crowd)).flatMap((part) => thinned(part));
  const [first, last] = [crowd[0]!, crowd.at(-1)!];
  if (crowd.length === 3 && last - first < glitchS) return [(first + last) / 2];
  let tried: readonly Tried[] = [{edges: crowd, taken: 0}];
  for (;;) {
    const good = tried.filter(({edges}) => isApart(edges)).sort((a, b) => a.taken - b.taken)[0];
    if (good) return good.edges;
    tried = tried.flatMap(({edges, taken}) =>
      edges.slice(1).map((edge, i) => ({edges: withoutPair(edges, i), taken: taken + edge - edges[i]!})),
    );
  }
}

/** Edges of a long crowd after its closest pairs went: no more than {@link maxTried} of them still crowd together. */
function withoutClosest(crowd: readonly number[]): number[] {
  const {length} = crowd;
  const [before, after] = [Int32Array.from(crowd, (_, i) => i - 1), Int32Array.from(crowd, (_, i) => i + 1)];
  const isGone = new Uint8Array(length);
  const pairs = new TinyQueue<Pair>([], (a, b) => a.gap - b.gap || a.at - b.at);
  const offer = (at: number) => {
    const next = after[at]!;
    if (at >= 0 && next < length && crowd[next]! - crowd[at]! < glitchS)
      pairs.push({at, next, gap: crowd[next]! - crowd[at]!});
  };
  for (let i = 0; i < length; i++) offer(i);
  let left = length;
  for (let pair = pairs.pop(); pair && left > maxTried; pair = pairs.pop()) {
    const {at, next} = pair;
    if (isGone[at] || isGone[next]) continue;
    isGone[at] = isGone[next] = 1;
    left -= 2;
    const [left0, right] = [before[at]!, after[next]!];
    if (left0 >= 0) after[left0] = right;
    if (right < length) before[right] = left0;
    if (left0 >= 0) offer(left0);
  }
  return crowd.filter((_, i) => !isGone[i]);
}

interface Pair {
  readonly at: number;
  readonly next: number;
  /** Time between the two, s. */
  readonly gap: number;
}

/** Edges cut where they do not crowd together. */
function parts(edges: readonly number[]): number[][] {
  const all: number[][] = [];
  edges.forEach((edge, i) => {
    if (i === 0 || edge - edges[i - 1]! >= glitchS) all.push([edge]);
    else all.at(-1)!.push(edge);
  });
  return all;
}

interface Tried {
  readonly edges: readonly number[];
  /** Length of the pulses that were taken out, s. */
  readonly taken: number;
}

const isApart = (edges: readonly number[]): boolean => edges.every((e, i) => i === 0 || e - edges[i - 1]! >= glitchS);
const withoutPair = (edges: readonly number[], at: number): number[] => [...edges.slice(0, at), ...edges.slice(at + 2)];

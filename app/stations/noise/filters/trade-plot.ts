/** Where the points of a trade-off lie in a drawing: delay to the right, noise left upward in equal ratios. */
import type {Trade} from '@core/tuning/search';
import type {TradePoint} from '@core/tuning/proposal';

const size = {width: 560, height: 300, left: 44, bottom: 34, top: 12, right: 14};

interface Place {
  readonly x: number;
  readonly y: number;
}
export interface Plotted {
  readonly dots: readonly (Place & {readonly trade: Trade; readonly index: number; readonly isChosen: boolean})[];
  readonly path: string;
  readonly marks: readonly (Place & {readonly name: string; readonly kind: 'found' | 'planned'})[];
  readonly xTicks: readonly {readonly at: number; readonly text: string}[];
  readonly yTicks: readonly {readonly at: number; readonly text: string}[];
}

export function plot(
  trades: readonly Trade[],
  {found, planned, chosen}: {found: TradePoint | undefined; planned: TradePoint | undefined; chosen: Trade | undefined},
): Plotted {
  const points = [...trades, ...(found ? [found] : []), ...(planned ? [planned] : [])];
  const maxX = Math.max(...points.map((p) => p.delayMs)) * 1.05;
  const [minY, maxY] = [Math.min(...points.map((p) => p.left)) / 1.15, Math.max(...points.map((p) => p.left)) * 1.15];
  const inner = {w: size.width - size.left - size.right, h: size.height - size.top - size.bottom};
  const place = ({delayMs, left}: TradePoint): Place => ({
    x: size.left + (delayMs / maxX) * inner.w,
    y: size.top + inner.h - (Math.log(left / minY) / Math.log(maxY / minY)) * inner.h,
  });
  const all = trades.map((trade, index) => ({...place(trade), trade, index, isChosen: trade === chosen}));
  return {
    dots: apart(all),
    path: all.map(({x, y}, i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join(''),
    marks: named([
      ...(found ? [{...place(found), name: 'on the craft', kind: 'found' as const}] : []),
      ...(planned ? [{...place(planned), name: 'plan', kind: 'planned' as const}] : []),
    ]),
    xTicks: ticks(maxX).map((v) => ({at: place({delayMs: v, left: maxY}).x, text: String(v)})),
    yTicks: ratioTicks(minY, maxY).map((v) => ({at: place({delayMs: 0, left: v}).y, text: String(v)})),
  };
}

/** So near to each other dots would hide one another, in units of the drawing. */
const minApart = 13;

/** The first, the chosen one, and of the others as many as a finger can tell apart. */
function apart(dots: Plotted['dots']): Plotted['dots'] {
  const chosen = dots.find((d) => d.isChosen);
  const isFar = (a: Place, b: Place | undefined) => !b || Math.hypot(a.x - b.x, a.y - b.y) >= minApart;
  const kept: Plotted['dots'][number][] = [];
  for (const dot of dots) if (dot.isChosen || (isFar(dot, kept.at(-1)) && isFar(dot, chosen))) kept.push(dot);
  return kept;
}

/** Two marks on one place share one name. */
function named(marks: Plotted['marks']): Plotted['marks'] {
  const [a, b] = marks;
  if (!a || !b || Math.hypot(a.x - b.x, a.y - b.y) > 24) return marks;
  return [
    {...a, name: ''},
    {...b, name: `${b.name}, ${a.name}`},
  ];
}

function ticks(most: number): number[] {
  const power = 10 ** Math.floor(Math.log10(most / 4));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= most / 4)!;
  return Array.from({length: Math.floor(most / step) + 1}, (_, i) => Number((i * step).toFixed(6)));
}

/** 1, 2, 5 of every power of ten between two values. */
function ratioTicks(least: number, most: number): number[] {
  const from = Math.floor(Math.log10(least));
  const to = Math.ceil(Math.log10(most));
  const all = Array.from({length: to - from + 1}, (_, i) => [1, 2, 5].map((m) => m * 10 ** (from + i))).flat();
  return all.filter((v) => v >= least && v <= most).map((v) => Number(v.toPrecision(1)));
}

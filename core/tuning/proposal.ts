/** Which point of a trade-off is proposed: a person may choose another. */
import type {Trade} from './search';

/** A chain as a point of the trade-off. */
export interface TradePoint {
  readonly delayMs: number;
  /** deg/s left of all axes from 80 Hz up. */
  readonly left: number;
}

/**
 * Where filters are on the craft already: the least delay that leaves no more noise than they do. Else the knee: the point
 * farthest from the straight line between the ends of the curve, in delay and in decibels, from where on a decibel costs
 * more and more delay. Undefined without trades.
 */
export function proposal(trades: readonly Trade[], found?: TradePoint): Trade | undefined {
  if (found) {
    const quiet = trades.filter((t) => t.left <= found.left);
    if (quiet.length) return quiet.reduce((best, t) => (t.delayMs < best.delayMs ? t : best));
  }
  const [first, last] = [trades[0], trades.at(-1)];
  if (!first || !last || trades.length < 3) return first;
  const span = {ms: last.delayMs - first.delayMs, db: Math.log(first.left / last.left)};
  const below = (t: Trade) => 1 - (t.delayMs - first.delayMs) / span.ms - Math.log(t.left / last.left) / span.db;
  return trades.reduce((best, t) => (below(t) > below(best) ? t : best));
}

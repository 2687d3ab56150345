/** Which point of a trade-off is proposed: a person may choose another. */
import type {Trade} from './search';

/** A chain as a point of the trade-off. */
export interface TradePoint {
  readonly delayMs: number;
  /** deg/s left of all axes from 80 Hz up. */
  readonly left: number;
}

/**
 * The knee of the curve: the point farthest from the straight line between its ends, in delay and in decibels, from where on
 * a decibel costs more and more delay. Where the filters on the craft leave less noise than that, the least delay that
 * leaves no more than they do. Undefined without trades.
 */
export function proposal(trades: readonly Trade[], found?: TradePoint): Trade | undefined {
  const knee = kneeOf(trades);
  if (!knee || !found || found.left >= knee.left) return knee;
  const quiet = trades.filter((t) => t.left <= found.left);
  return quiet.length ? quiet.reduce((best, t) => (t.delayMs < best.delayMs ? t : best)) : trades.at(-1);
}

function kneeOf(trades: readonly Trade[]): Trade | undefined {
  const [first, last] = [trades[0], trades.at(-1)];
  if (!first || !last || trades.length < 3) return first;
  const span = {ms: last.delayMs - first.delayMs, db: Math.log(first.left / last.left)};
  const below = (t: Trade) => 1 - (t.delayMs - first.delayMs) / span.ms - Math.log(t.left / last.left) / span.db;
  return trades.reduce((best, t) => (below(t) > below(best) ? t : best));
}

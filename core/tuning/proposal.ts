/** Which point of a trade-off is proposed: a person may choose another. */
import type {Trade} from './search';

/** A chain as a point of the trade-off. */
export interface TradePoint {
  readonly delayMs: number;
  /** deg/s left of all axes from 80 Hz up. */
  readonly left: number;
}

/** Delay that a decibel less of noise is worth, ms: our own price, near what pilots choose by hand (common practice). */
const msPerDb = 0.25;
/** Noise far below this is not felt: less of it is worth nothing, deg/s. */
const feltDegS = 1;

/**
 * The point from where on a decibel less costs more delay than it is worth, whatever ends the curve has. Where the filters on
 * the craft leave less noise than that, the least delay that leaves no more than they do. Undefined without trades.
 */
export function proposal(trades: readonly Trade[], found?: TradePoint): Trade | undefined {
  const best = trades.reduce<Trade | undefined>((a, t) => (a && price(a) <= price(t) ? a : t), undefined);
  if (!best || !found || found.left >= best.left) return best;
  const quiet = trades.filter((t) => t.left <= found.left);
  return quiet.length ? quiet.reduce((least, t) => (t.delayMs < least.delayMs ? t : least)) : trades.at(-1);
}

const price = ({delayMs, left}: TradePoint): number => delayMs + msPerDb * 20 * Math.log10(left + feltDegS);

/** Power of a moment's spectrum on the motors' lines, above the floor beside them, and that floor. */
interface LinePower {
  /** (deg/s)² on the lines of each order given, above the floor; below nothing where the floor's scatter is larger. */
  readonly lines: readonly number[];
  /** The same with the floor in it: never below nothing. */
  readonly whole: readonly number[];
  /** (deg/s)² within the band, beside all lines of orders 1 to 4. */
  readonly rest: number;
}

interface LineQuestion {
  readonly stepHz: number;
  /** Half width that a steady line takes in the spectrum, Hz. */
  readonly lobeHz: number;
  /** Least and greatest speed of every motor in the moment, revolutions per second. */
  readonly motors: readonly SpeedRange[];
  readonly orders: readonly number[];
  /** The band that is looked at, Hz: below it the craft flies, above it a log's rate ends. */
  readonly band: {readonly fromHz: number; readonly toHz: number};
}

export interface SpeedRange {
  readonly least: number;
  readonly most: number;
}

const lineOrders = [1, 2, 3, 4];
/** The floor is read so far to either side of a line, Hz. */
const besideHz = 40;

export function linePower(density: Float64Array, q: LineQuestion): LinePower {
  const {stepHz, orders, band} = q;
  const [first, last] = [Math.ceil(band.fromHz / stepHz), Math.min(density.length - 1, Math.floor(band.toHz / stepHz))];
  const orderOf = markLines(density.length, q);
  const lines = orders.map(() => 0);
  const whole = orders.map(() => 0);
  let rest = 0;
  for (let k = first; k <= last;) {
    const order = orderOf[k]!;
    let end = k;
    let power = 0;
    while (end <= last && orderOf[end] === order) power += density[end++]! * stepHz;
    const line = orders.indexOf(order);
    if (order === 0) rest += power;
    else if (line >= 0) {
      whole[line]! += power;
      lines[line]! +=
        power - floorUnder(density, orderOf, {from: k, end, first, last, reach: besideHz / stepHz}) * stepHz;
    }
    k = end;
  }
  return {lines, whole, rest};
}

/** Which order's line each bin belongs to; 0 beside all of them. The lowest order wins where two meet. */
function markLines(length: number, {stepHz, lobeHz, motors}: LineQuestion): Uint8Array {
  const orderOf = new Uint8Array(length);
  for (const order of [...lineOrders].reverse())
    for (const {least, most} of motors) {
      const [from, to] = [(order * least - lobeHz) / stepHz, (order * most + lobeHz) / stepHz];
      for (let k = Math.max(0, Math.ceil(from)); k <= Math.min(length - 1, to); k++) orderOf[k] = order;
    }
  return orderOf;
}

interface Span {
  readonly from: number;
  readonly end: number;
  readonly first: number;
  readonly last: number;
  readonly reach: number;
}

/**
 * Sum of the floor's density over the bins of a line, read from the bins beside it that belong to none: a level part and
 * one that falls with the square of frequency, as what gusts do to a craft does. Level where one side has none; 0 where there are no such bins at all.
 */
function floorUnder(density: Float64Array, orderOf: Uint8Array, span: Span): number {
  const {from, end} = span;
  const fall = (k: number) => (from / k) ** 2;
  const sides = ([-1, 1] as const).map((way) => binsBeside(orderOf, span, way));
  const bins = sides.flat();
  if (!bins.length) return 0;
  const x = bins.map(fall);
  const y = bins.map((k) => density[k]!);
  const [meanX, meanY] = [mean(x), mean(y)];
  const spread = x.reduce((sum, v) => sum + (v - meanX) ** 2, 0);
  if (sides.some((side) => !side.length) || !(spread > 0)) return mean(y) * (end - from);
  const slope = x.reduce((sum, v, i) => sum + (v - meanX) * y[i]!, 0) / spread;
  let floor = 0;
  for (let k = from; k < end; k++) floor += meanY + slope * (fall(k) - meanX);
  return Math.max(0, floor);
}

/** Bins within reach of a line's edge that belong to none; the nearest one where there is none within it. */
function binsBeside(orderOf: Uint8Array, {from, end, first, last, reach}: Span, way: 1 | -1): number[] {
  const bins: number[] = [];
  const start = way < 0 ? from - 1 : end;
  for (let k = start; k >= first && k <= last && (Math.abs(k - start) < reach || !bins.length); k += way)
    if (orderOf[k] === 0) bins.push(k);
  return bins;
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** Power of a moment's spectrum on the motors' lines, and of the rest of it. */
export interface LinePower {
  /** (deg/s)² on the lines of each order given. */
  readonly lines: readonly number[];
  /** (deg/s)² from the lowest frequency up, beside all lines of orders 1 to 4. */
  readonly rest: number;
}

export interface LineQuestion {
  readonly stepHz: number;
  readonly motorsHz: readonly number[];
  readonly orders: readonly number[];
  /** What lies below belongs to the pilot's hand, Hz. */
  readonly fromHz: number;
}

/** A line takes the main lobe of a Hann window, two bins to either side, and what the speed changes in a moment. */
const lobeBins = 2;
const changeShare = 0.015;
const lineOrders = [1, 2, 3, 4];

export function linePower(density: Float64Array, {stepHz, motorsHz, orders, fromHz}: LineQuestion): LinePower {
  const orderOf = new Uint8Array(density.length);
  for (const order of [...lineOrders].reverse())
    for (const hz of motorsHz) {
      const centre = (order * hz) / stepHz;
      const reach = lobeBins + changeShare * centre;
      for (let k = Math.max(0, Math.ceil(centre - reach)); k <= Math.min(density.length - 1, centre + reach); k++)
        orderOf[k] = order;
    }
  const lines = orders.map(() => 0);
  let rest = 0;
  for (let k = Math.ceil(fromHz / stepHz); k < density.length; k++) {
    const power = density[k]! * stepHz;
    const line = orders.indexOf(orderOf[k]!);
    if (line >= 0) lines[line]! += power;
    else if (orderOf[k] === 0) rest += power;
  }
  return {lines, rest};
}

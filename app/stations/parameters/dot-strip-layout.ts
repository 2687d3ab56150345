/** Where the marks of a dot strip go, so that every motor stays readable. */

export interface Mark {
  readonly motor: number;
  readonly x: number;
  /** Row above the line, 0 at the bottom. */
  readonly row: number;
}

/** Places marks at their values; marks that would cover each other are stacked in rows, up to eight motors. */
export function stackMarks(xs: readonly (number | undefined)[], diameter: number): Mark[] {
  const placed: Mark[] = [];
  const order = xs
    .flatMap((x, motor) => (x === undefined ? [] : [{x, motor}]))
    .sort((a, b) => a.x - b.x || a.motor - b.motor);
  for (const {x, motor} of order) {
    let row = 0;
    while (placed.some((p) => p.row === row && Math.abs(p.x - x) < diameter)) row++;
    placed.push({motor, x, row});
  }
  return placed;
}

/** Spreads equal values side by side as long as they fit into `room` around their place; else they are stacked. */
export function spreadMarks(
  xs: readonly (number | undefined)[],
  diameter: number,
  {from, to}: {from: number; to: number},
): Mark[] {
  const groups = new Map<number, number[]>();
  xs.forEach((x, motor) => x !== undefined && groups.set(x, [...(groups.get(x) ?? []), motor]));
  const spread: (number | undefined)[] = xs.map(() => undefined);
  for (const [x, motors] of groups) {
    const half = ((motors.length - 1) * diameter) / 2;
    const centre = Math.min(to - half, Math.max(from + half, x));
    motors.forEach((motor, k) => (spread[motor] = centre - half + k * diameter));
  }
  return stackMarks(spread, diameter - 0.01);
}

/** Where the marks of a dot strip go, so that every motor stays readable. */

export interface Mark {
  readonly motor: number;
  readonly x: number;
  /** Row above the line, 0 at the bottom. */
  readonly row: number;
}

interface Place {
  readonly motor: number;
  readonly x: number;
  readonly row: number;
}

/** Lifts marks that would cover one another into higher rows. */
function lift(places: readonly Place[], diameter: number): Mark[] {
  const placed: Mark[] = [];
  for (const {x, motor, row: from} of [...places].sort((a, b) => a.row - b.row || a.x - b.x || a.motor - b.motor)) {
    let row = from;
    while (placed.some((p) => p.row === row && Math.abs(p.x - x) < diameter)) row++;
    placed.push({motor, x, row});
  }
  return placed;
}

/**
 * Spreads equal values side by side around their place, as far as the values beside them leave room; the rest goes into
 * a second row. Marks that would still cover each other are lifted.
 */
export function spreadMarks(
  xs: readonly (number | undefined)[],
  diameter: number,
  {from, to}: {from: number; to: number},
): Mark[] {
  const groups = new Map<number, number[]>();
  xs.forEach((x, motor) => x !== undefined && groups.set(x, [...(groups.get(x) ?? []), motor]));
  const centres = [...groups.keys()];
  const places = [...groups].flatMap(([x, motors]) => {
    // Two values share the way between them as their numbers of motors are.
    const share = (other: number) =>
      (2 * Math.abs(other - x) * motors.length) / (motors.length + groups.get(other)!.length);
    const room = Math.min(...centres.filter((c) => c !== x).map(share), to - from);
    const perRow = Math.min(motors.length, Math.max(Math.floor(room / diameter), Math.ceil(motors.length / 2)));
    const rows = Math.ceil(motors.length / perRow);
    return motors.map((motor, k): Place => {
      const row = Math.floor(k / perRow);
      const inRow = row === rows - 1 ? motors.length - row * perRow : perRow;
      const half = ((inRow - 1) * diameter) / 2;
      const centre = Math.min(to - half, Math.max(from + half, x));
      return {motor, x: centre - half + (k % perRow) * diameter, row};
    });
  });
  return lift(places, diameter - 0.01);
}

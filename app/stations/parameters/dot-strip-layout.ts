/** Where the marks of a dot strip go: each on its value. Motors of one value share one joined mark. */

interface Mark {
  /** Motors it stands for, from 0, ascending. */
  readonly motors: readonly number[];
  /** "1–4", "1,2,4". */
  readonly text: string;
  /** Centre, which is where the value is. */
  readonly x: number;
  readonly width: number;
  /** Row above the line, 0 at the bottom. */
  readonly row: number;
  /** Off the plan. */
  readonly off: boolean;
}

export interface MotorValue {
  readonly motor: number;
  readonly x: number;
  readonly off: boolean;
}

/** Smallest mark, and what each further character adds, px. */
export const markSize = 15;
const characterWidth = 6.6;
/** Longest mark: a longer text is set narrower. Half of it fits beside the ends of the scale. */
export const longestMark = 50;

/** One mark per value; marks that would cover one another are lifted into higher rows, never moved sideways. */
export function placeMarks(values: readonly MotorValue[]): Mark[] {
  const groups = new Map<string, MotorValue[]>();
  for (const value of values) {
    const key = `${value.x} ${value.off}`;
    groups.set(key, [...(groups.get(key) ?? []), value]);
  }
  const placed: Mark[] = [];
  // What is off the plan stands in the lowest row, where the eye looks first; then the larger groups.
  const order = [...groups.values()].sort(
    (a, b) => Number(b[0]!.off) - Number(a[0]!.off) || b.length - a.length || a[0]!.x - b[0]!.x,
  );
  for (const group of order) {
    const {x, off} = group[0]!;
    const motors = group.map((v) => v.motor).sort((a, b) => a - b);
    const text = joinedMotors(motors);
    const width = Math.min(longestMark, markSize + (text.length - 1) * characterWidth);
    let row = 0;
    while (placed.some((p) => p.row === row && Math.abs(p.x - x) < (p.width + width) / 2)) row++;
    placed.push({motors, text, x, width, row, off});
  }
  return placed;
}

/** Motor numbers as people count them, three and more in a row joined: "1–4", "1,2,4", "1–3,6". */
export function joinedMotors(motors: readonly number[]): string {
  const runs: number[][] = [];
  for (const motor of motors) {
    const last = runs.at(-1);
    if (last && last.at(-1) === motor - 1) last.push(motor);
    else runs.push([motor]);
  }
  return runs
    .map((run) => (run.length > 2 ? `${run[0]! + 1}–${run.at(-1)! + 1}` : run.map((m) => m + 1).join(',')))
    .join(',');
}

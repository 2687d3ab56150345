/** What each motor makes at multiples of its speed on one axis of the gyro, with bounds. */
import type {Axis} from '../../flight/mapping';
import type {FlightReport} from '../../noise/flight-report';
import type {OrderAmplitude} from '../../noise/tracking/order-sums';

interface MotorLines {
  /** Column heads: "1×", "3×, blades". */
  readonly orders: readonly string[];
  readonly rows: readonly MotorLineRow[];
  /** How it was measured, in one sentence. */
  readonly foot: string;
}

interface MotorLineRow {
  /** Counted from 1, with its sign where something was found about it. */
  readonly motor: string;
  readonly isOdd: boolean;
  readonly cells: readonly (MotorLineCell | undefined)[];
  /** How long it runs on after a cut. */
  readonly coast: string;
}

interface MotorLineCell {
  readonly text: string;
  /** By how much it runs ahead of roll; empty on roll itself and where that wanders. */
  readonly phase: string;
  /** Length of its bar, percent of the largest. */
  readonly width: number;
}

/** A phase lead is told from this steadiness on, 0…1. */
const steady = 0.6;

/** @param blades of the propeller: at this multiple they pass. Undefined where the flight has no motor speeds. */
export function motorLines(report: FlightReport, axis: Axis, blades: number | undefined): MotorLines | undefined {
  const orders = [...(report.orders[0]?.orders.keys() ?? [])];
  if (!orders.length) return undefined;
  const all = report.orders.map((motor) => [...motor.orders.values()].map((o) => o?.[axis]));
  const largest = Math.max(1e-9, ...all.flatMap((row) => row.map((c) => c?.amplitude ?? 0)));
  return {
    orders: orders.map((order) => `${order}×${order === blades ? ', blades' : ''}`),
    rows: all.map((cells, motor) => {
      const isOdd = report.findings.some((f) => f.motor === motor);
      const coast = report.coast[motor];
      return {
        ...{isOdd, motor: `${motor + 1}${isOdd ? ' ◆' : ''}`},
        cells: cells.map((cell) => cell && cellOf(cell, axis, largest)),
        coast: coast ? `${(coast.seconds * 1000).toFixed(0)} ms` : '–',
      };
    }),
    foot: footOf(all.flat(), axis),
  };
}

const cellOf = ({amplitude, bound, steadiness, phaseDeg}: OrderAmplitude, axis: Axis, largest: number) => ({
  text: `${amplitude.toFixed(1)} ± ${bound.toFixed(1)}`,
  phase: axis !== 'roll' && steadiness > steady ? `∠ ${phaseDeg.toFixed(0)}°` : '',
  width: (100 * amplitude) / largest,
});

function footOf(cells: readonly (OrderAmplitude | undefined)[], axis: Axis): string {
  const lengths = [...new Set(cells.flatMap((c) => (c ? [c.blockS] : [])))].sort((a, b) => a - b);
  const blocks = lengths.length ? `, in blocks of ${lengths.map((s) => `${s} s`).join(' and ')}` : '';
  const lead = axis === 'roll' ? '' : ' ∠: phase lead over roll, where it is steady.';
  return `Each at its motor's most frequent speed, by least squares on the phase of all motors at once${blocks}; a block in which two motors are too near in speed does not count.${lead}`;
}

/** Rules about the pack: what its cells and its current may be for the board that is fitted. */
import {fullThrottle} from '../../motor/full-throttle';
import {driveOf} from '../../motor/effects/effect';
import {physicsOf, type BoardRating, type Rule} from './rule';

/** A LiPo cell that is full, V (trade fact). */
export const fullCellVolts = 4.2;

export interface CellRange {
  readonly least: number;
  readonly most: number;
}

/** "3–6S" or "1S", as boards are labelled; undefined where it does not read. */
export function cellRange(cells: string): CellRange | undefined {
  const read = /^(\d+)(?:\s*[–-]\s*(\d+))?\s*S$/i.exec(cells.trim());
  if (!read) return undefined;
  const least = Number(read[1]);
  return {least, most: Number(read[2] ?? read[1])};
}

/** Highest supply that a board is made for, V; undefined where its label does not read. */
export function mostVolts(board: Pick<BoardRating, 'cells'>): number | undefined {
  const range = cellRange(board.cells);
  return range && range.most * fullCellVolts;
}

export const packRules: readonly Rule[] = [
  {
    id: 'pack-cells',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a pack that the ESC board is made for, or choose the board that is fitted, on the Craft station.',
    check: ({craft, board}) => {
      const most = board && mostVolts(board);
      const full = craft.battery.cells * fullCellVolts;
      if (!board || most === undefined || full <= most) return undefined;
      return {
        meaning: `A full pack of ${craft.battery.cells} cells has ${full.toFixed(1)} V. ${board.name} is made for ${board.cells}, at most ${most.toFixed(1)} V: its ESCs burn when this pack is plugged in.`,
      };
    },
  },
  {
    id: 'board-current',
    severity: 'warn',
    keys: [],
    remedy: 'Fly a pack of fewer cells or a propeller of less pitch, or limit the throttle.',
    check: ({craft, escs, board}) => {
      const esc = escs.find((e) => physicsOf(craft, e) !== undefined);
      const physics = esc && physicsOf(craft, esc);
      if (!board || !physics) return undefined;
      const {amps} = fullThrottle(physics.craft, driveOf(physics));
      return amps > board.amps
        ? {
            meaning: `At full throttle each motor is predicted to draw ${amps.toFixed(0)} A, ${(amps * craft.arms.length).toFixed(0)} A in all from the pack. ${board.name} is rated for ${board.amps} A per motor.`,
          }
        : undefined;
    },
  },
];

/** Rules about the pack: what its cells and its current may be for the board that is fitted. */
import {fullThrottle} from '../../motor/full-throttle';
import {driveOf} from '../../motor/effects/effect';
import {physicsOf, type BoardRating, type Rule, type RuleQuestion} from './rule';

/** A LiPo cell that is full, V (trade fact). */
export const fullCellVolts = 4.2;

interface CellRange {
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
export function maxVolts(board: Pick<BoardRating, 'cells'>): number | undefined {
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
      const most = board && maxVolts(board);
      const full = craft.battery.cells * fullCellVolts;
      if (!board || most === undefined || full <= most) return undefined;
      return {
        meaning: `A full pack of ${craft.battery.cells} cells has ${full.toFixed(1)} V. ${board.name} is made for ${board.cells}, at most ${most.toFixed(1)} V: its ESCs burn when this pack is plugged in.`,
      };
    },
  },
  currentRule('board-current', ({board}) => board && {name: board.name, amps: board.amps, of: 'motor'}),
  currentRule('motor-current', ({craft: {motor}}) => motor.amps && {name: 'The motor', amps: motor.amps, of: 'motor'}),
  currentRule(
    'pack-current',
    ({craft: {battery}}) => battery.amps && {name: 'The pack', amps: battery.amps, of: 'pack'},
  ),
];

/** Ids of the rules that hold the craft's currents and volts against labels. */
export const packRuleIds: readonly string[] = packRules.map((rule) => rule.id);

/** What a craft is predicted to draw at full throttle, A. */
interface FullCurrent {
  readonly perMotor: number;
  readonly inAll: number;
}

/** Of the first ESC whose board is known; undefined while none is, or while the motors' size is not. */
export function fullCurrent({craft, escs}: Pick<RuleQuestion, 'craft' | 'escs'>): FullCurrent | undefined {
  const physics = escs.map((e) => physicsOf(craft, e)).find((p) => p !== undefined);
  if (!physics) return undefined;
  const {amps} = fullThrottle(physics.craft, driveOf(physics));
  return {perMotor: amps, inAll: amps * craft.arms.length};
}

/** What is labelled with a highest current. */
interface Labelled {
  readonly name: string;
  readonly amps: number;
  readonly of: 'motor' | 'pack';
}

/** The predicted current at full throttle against a label; nothing where there is none. */
function currentRule(id: string, labelOf: (q: RuleQuestion) => Labelled | 0 | undefined): Rule {
  return {
    ...{id, severity: 'warn', keys: []},
    remedy: 'Fly a pack of fewer cells or a propeller of less pitch, or limit the throttle.',
    check: (question) => {
      const label = labelOf(question);
      const drawn = label ? fullCurrent(question) : undefined;
      if (!label || !drawn || drawn[label.of === 'motor' ? 'perMotor' : 'inAll'] <= label.amps) return undefined;
      return {
        meaning: `At full throttle each motor is predicted to draw ${drawn.perMotor.toFixed(0)} A, ${drawn.inAll.toFixed(0)} A in all from the pack. ${label.name} is rated for ${label.amps} A${label.of === 'motor' ? ' per motor' : ''}.`,
      };
    },
  };
}

/** What the tables of Survey and Firmware say alike of an ESC. */
import {hasReplies, type FoundEsc} from '../../bench/found';
import {armName} from '../../craft/arm-name';
import type {Craft} from '../../craft/craft';

/** One cell of a table; a deviation is marked. */
export interface Cell {
  readonly text: string;
  readonly isOff: boolean;
}

export interface EscLine {
  readonly output: number;
  /** Name of the arm that the plan gives this output. */
  readonly arm: string;
  readonly board: string;
  readonly chip: string;
  readonly replies: 'yes' | 'no';
}

export const escLine = (esc: FoundEsc, craft: Craft): EscLine => ({
  ...{output: esc.output, arm: armName(craft, esc.output), chip: esc.boot.chip},
  board: `${esc.hardware?.board ?? 'not known'}${esc.claim ? ', claimed' : ''}`,
  replies: hasReplies(esc) ? 'yes' : 'no',
});

/** Every key that does something, and where: what the help shows, and nothing that is not so. */
export interface KeyLine {
  readonly keys: readonly string[];
  readonly does: string;
}

export const keyLines: readonly KeyLine[] = [
  {keys: ['Space', 'Esc'], does: 'Stops all motors, wherever you are.'},
  {
    keys: ['Enter'],
    does: 'On a button that is held: turns motors for as long as the key is down. On any other: presses it.',
  },
  {keys: ['T'], does: 'On Spin, where no speeds come: says that the motor turns now.'},
  {keys: ['Ctrl', 'Z'], does: 'Takes the last edit of the plan back.'},
  {keys: ['Ctrl', 'Y'], does: 'Makes that edit again.'},
  {keys: ['↑', '↓'], does: 'On Parameters: goes from line to line.'},
  {
    keys: ['←', '→', '↑', '↓'],
    does: 'On a curve, a map or the table of pairs: moves the mark; on a map ten times as far with Shift.',
  },
  {
    keys: ['+', '−', 'Home'],
    does: 'On the timeline of a capture: closer, wider, all of it; ← and → move along it, Page keys by a screen.',
  },
  {keys: ['?'], does: 'Shows this list.'},
];

/** Where the start-up melody that an ESC keeps is not the planned one. */
import type {FoundEsc} from '../bench/found';
import {plannedMelody, type Plan} from '../craft/craft';
import {keepsMelody, melodyIn, melodyText} from '../sounds/melody-block';
import {readRtttl} from '../sounds/rtttl';

export interface MelodyDifference {
  readonly output: number;
  /** As they are shown: RTTTL without a name, or "none". */
  readonly from: string;
  readonly to: string;
}

/** Undefined where nothing is planned for the ESC, it keeps no melodies, or it has the planned one. */
export function melodyDifference(
  plan: Plan,
  {output, settingsPage}: Pick<FoundEsc, 'output' | 'settingsPage'>,
  layout: number | undefined,
): MelodyDifference | undefined {
  const text = plannedMelody(plan, output);
  const wanted = text === undefined ? undefined : readRtttl(text);
  if (!wanted?.ok || !keepsMelody(layout)) return undefined;
  const [from, to] = [melodyText(melodyIn(settingsPage)), melodyText(wanted.value)];
  return from === to ? undefined : {output, from, to};
}

/** What Arming says of self-level: whether the accelerometer is levelled, what it measures at rest, which offsets take that off. */
import {canBeTakenOff, judgeLevel, leftOver, type LevelMeasure} from '../../arming/levelling';
import {sameJson} from '../../canonical-json';
import {offsetEdits, offsetKeys, type Offsets} from '../../controller/settings/level-offsets';
import type {SettingEdits} from '../../controller/settings/planned-settings';
import {wantsSelfLevel} from '../../route/stations';
import {wholePercent} from '../../words/percent';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';
import {armingField, type VerdictLine} from './arming';
import {offsetsOf} from './kept-offsets';

/** What is looked at now. */
export interface LevellingNow {
  /** The accelerometer is read. */
  readonly isRead: boolean;
  /** How much of the rest is over, 0…1; undefined while none is waited for. */
  readonly share: number | undefined;
  readonly result: LevelMeasure | undefined;
}

interface LevellingSheet {
  /** Why it is needed, or not. */
  readonly why: string;
  readonly begin: {readonly isOpen: boolean; readonly title: string};
  /** What is waited for; empty while nothing is. */
  readonly asked: string;
  readonly verdict: VerdictLine | undefined;
  /** What is better planned, by what was measured. */
  readonly offer: {readonly text: string; readonly edits: SettingEdits} | undefined;
  /** What it takes off, found and planned; empty where its firmware does not tell it. */
  readonly offsets: readonly {readonly name: string; readonly text: string; readonly isSet: boolean}[];
}

export function levellingSheet(q: JudgedCraft, now: LevellingNow): LevellingSheet {
  const {share, result} = now;
  const verdict = result && judgeLevel(result, armingField(q, 'mounting').set);
  const kept = offsetsOf(q);
  return {
    why: wantsSelfLevel(q)
      ? 'Levelled flying has a switch: what the accelerometer takes for level has to be level.'
      : 'Without levelled flying this is not asked: no switch of the plan has it.',
    begin: {isOpen: now.isRead, title: result ? 'Measure it again' : 'The craft is level: measure'},
    asked: share === undefined ? '' : `Leave it alone. ${wholePercent(share)} of two seconds at rest.`,
    verdict: verdict && {...verdict, title: verdict.holds ? 'Level' : 'Not level'},
    offer: result && !verdict!.holds ? offerOf(q, result) : undefined,
    offsets: kept
      ? [
          {name: 'found', text: offsetsText(kept.found), isSet: true},
          {name: 'plan', text: offsetsText(kept.planned), isSet: sameJson(kept.found, kept.planned)},
        ]
      : [],
  };
}

/** What is measured beyond 1 g, on top of what is taken off already. */
function offerOf(q: JudgedCraft, result: LevelMeasure): LevellingSheet['offer'] {
  const {set} = armingField(q, 'mounting');
  const kept = offsetsOf(q);
  if (!kept || !canBeTakenOff(result, set)) return undefined;
  const over = leftOver(result, set);
  const [x, y, z] = kept.found.map((offset, axis) => offset + over[axis]!);
  const edits = offsetEdits(heldAndPlanned(q)!.entries, [x!, y!, z!]);
  const isPlanned = offsetKeys.every((key, axis) => edits[key] === Math.round(kept.planned[axis]! * 1000));
  return isPlanned ? undefined : {text: `Plan the offsets ${offsetsText([x!, y!, z!])}`, edits};
}

const offsetsText = (offsets: Offsets): string =>
  `${offsets.map((g) => String(Math.round(g * 1000)).replace('-', '−')).join(', ')} mg`;

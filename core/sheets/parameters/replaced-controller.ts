/** A flight controller that took the place of another: what the one before held, planned at once, and what to prove anew. */
import type {Craft} from '../../craft/craft';
import type {Snapshot} from '../../snapshot/snapshot';
import {counted} from '../../words/counted';
import {momentText} from '../../words/moment';
import type {JudgedCraft} from '../craft-question';
import {signOffSheet} from '../order/sign-off';
import {takeableRows, withTakenLines, type TextNow} from './controller-text';

interface ReplacedController {
  readonly text: string;
  /** What the button says that plans everything that the one before held. */
  readonly planText: string;
  /** What has to be proven anew: what was measured on the one before; empty where nothing was. */
  readonly proveText: string;
}

/** Undefined while the newest snapshot is of the board that is there, and where neither tells its serial. */
export function replacedController(q: JudgedCraft, snapshots: readonly Snapshot[]): ReplacedController | undefined {
  const before = ofOtherBoard(q, snapshots);
  if (!before) return undefined;
  const lines = takeableOf(q, before).length;
  const lost = signOffSheet(q).lines.filter(({kind}) => kind === 'void');
  return {
    text: `The snapshot ${before.name} of ${momentText(before.at)} is of another flight controller. ${
      lines
        ? `The plan says nothing of ${counted(lines, 'line')} that it held otherwise than this one.`
        : 'Nothing that it held is missing: the plan says it, or this one holds it too.'
    }`,
    planText: lines ? `Plan ${counted(lines, 'line')} as the one before held them` : '',
    proveText: lost.length ? `To prove again on this one: ${lost.map(({name}) => name.toLowerCase()).join('; ')}.` : '',
  };
}

/** The craft with everything planned that the flight controller before held, as far as this one's firmware has it. */
export function withReplacedController(craft: Craft, q: JudgedCraft, snapshots: readonly Snapshot[]): Craft {
  const before = ofOtherBoard(q, snapshots);
  return before ? withTakenLines(craft, q, {...lookingAt(before), taken: takeableOf(q, before)}) : craft;
}

function ofOtherBoard({record}: JudgedCraft, snapshots: readonly Snapshot[]): Snapshot | undefined {
  const serial = record.found?.controller?.identity.serial;
  const newest = snapshots.find((s) => s.controllerSerial !== undefined);
  return serial !== undefined && newest?.controllerSerial !== serial ? newest : undefined;
}

const lookingAt = (snapshot: Snapshot): TextNow => ({
  ...{files: [], crafts: [], snapshots: [snapshot], chosen: snapshot.id, onlyDiffering: false, taken: []},
});

/** What the plan says stays as it says it: the snapshot may be of before that was carried out. */
function takeableOf(q: JudgedCraft, snapshot: Snapshot): readonly string[] {
  const {controller, settings} = q.plan;
  const planned = new Set<string>([...Object.keys(controller).filter(isSaid), ...Object.keys(settings ?? {})]);
  function isSaid(field: string): boolean {
    return controller[field as keyof typeof controller] !== undefined;
  }
  return takeableRows(q, lookingAt(snapshot))
    .filter(({field, path}) => !planned.has(field || path))
    .map(({path}) => path);
}

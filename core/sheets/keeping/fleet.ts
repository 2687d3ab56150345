/** Every craft in one line: what it is, what firmware was found on it, and how many stations are open. */
import {firmwareText, type FoundEsc} from '../../bench/found';
import {oddFirmware} from '../../compare/odd-firmware';
import type {Craft, Plan} from '../../craft/craft';
import {firmwareName} from '../../firmware/plan/firmware-plan';
import type {CraftRecord} from '../../route/craft-record';
import type {RouteQuestion} from '../../route/standings';
import {openStations, routeStates} from '../../route/stations';
import {kindText} from '../../words/craft-kind';
import {alike} from '../../words/alike';
import {momentText} from '../../words/moment';
export {copyOf, nextName} from '../../craft/presets';

export interface FleetNow {
  readonly crafts: readonly Craft[];
  readonly records: readonly CraftRecord[];
  /** Craft at the bench, and its moment there. */
  readonly atBench: string | undefined;
  readonly now: RouteQuestion['now'];
}

interface FleetSheet {
  readonly rows: readonly FleetRow[];
  /** Craft that were put away. */
  readonly archived: readonly {readonly id: string; readonly name: string; readonly text: string}[];
}

interface FleetRow {
  readonly craft: Craft;
  readonly kind: string;
  readonly motors: string;
  readonly winding: string;
  /** As last found: which firmware on how many ESCs. */
  readonly firmware: readonly {readonly text: string; readonly isOdd: boolean}[];
  readonly planned: string;
  readonly surveyed: string;
  readonly isSurveyed: boolean;
  /** Station that its name leads to. */
  readonly leadsTo: 'firmware' | 'craft';
  readonly standing: {readonly kind: 'ok' | 'wait' | ''; readonly text: string};
}

export const fleetSheet = (q: FleetNow): FleetSheet => ({
  rows: q.crafts.filter((c) => !c.archived).map((craft) => fleetRow(craft, q)),
  archived: q.crafts.filter((c) => c.archived).map(({id, name, kind}) => ({id, name, text: `${name}, ${kind}`})),
});

function fleetRow(craft: Craft, {records, atBench, now}: FleetNow): FleetRow {
  const record = records.find((r) => r.craftId === craft.id);
  const found = record?.found;
  const states = found && routeStates({craft, record, now: atBench === craft.id ? now : undefined});
  const {motor, arms, plan} = craft;
  return {
    ...{craft, kind: kindText(craft), motors: `${arms.length} × ${motor.size}`},
    winding: `${motor.kv} KV, ${motor.poles} poles`,
    firmware: firmwareCounts(plan, found?.escs ?? []),
    planned: [firmwareName(plan.firmware), ...(plan.ownFirmware ?? []).map(ownText)].join('; '),
    ...{surveyed: found ? momentText(found.at) : '–', isSurveyed: found !== undefined},
    leadsTo: found ? 'firmware' : 'craft',
    standing: standingOf(states && openStations(states).length),
  };
}

function standingOf(open: number | undefined): FleetRow['standing'] {
  if (open === undefined) return {kind: '', text: 'begin with Survey'};
  return open === 0 ? {kind: 'ok', text: '✓ all proven'} : {kind: 'wait', text: `${open} open`};
}

/** "Meridian 3.9 ×3", "Meridian 3.7 ×1, odd one out". */
const ownText = ({motor, firmware}: NonNullable<Plan['ownFirmware']>[number]): string =>
  `motor ${motor + 1} ${firmwareName(firmware)}`;

function firmwareCounts(plan: Plan, escs: readonly FoundEsc[]): FleetRow['firmware'] {
  const odd = new Set(oddFirmware(plan, escs).map(firmwareText));
  return alike(escs, firmwareText).map((same) => {
    const text = firmwareText(same[0]!);
    return {text: `${text} ×${same.length}${odd.has(text) ? ', odd one out' : ''}`, isOdd: odd.has(text)};
  });
}

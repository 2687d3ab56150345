/** What Survey says of a craft: who is on the bench, what it holds, what stands out, and what a person does next. */
import {poweredVolts, withBatteryOn} from '../../bench/battery';
import {firmwareText, type Found, type FoundController, type FoundEsc} from '../../bench/found';
import {surveyFindings} from '../../compare/survey-findings';
import {chainFields} from '../../controller/chain-of';
import type {ControllerConfig} from '../../controller/plan';
import {controllerFields, formatControllerField} from '../../controller/fields';
import {armName} from '../../craft/arm-name';
import type {Craft} from '../../craft/craft';
import type {Problem} from '../../problem';
import type {Remark} from '../../remark';
import {alike} from '../../words/alike';
import type {CraftQuestion} from '../craft-question';
import {outputLabel, type DrawnArm} from '../spin/spin-order';
import {escLine, type Cell, type EscLine} from './esc-line';

interface SurveyLine extends EscLine {
  readonly serial: string;
  readonly firmware: Cell;
  readonly bootloader: string;
  readonly settings: Cell;
}

interface NamedValue {
  readonly name: string;
  readonly text: string;
}

interface ControllerSheet {
  readonly identity: readonly NamedValue[];
  readonly fields: readonly NamedValue[];
  readonly filters: readonly NamedValue[];
}

interface SurveySheet {
  /** What stands in front of the results: the round of a single-wire adapter, or the way to a connection. */
  readonly asks: 'round' | 'connection' | undefined;
  readonly canSurveyAgain: boolean;
  /** Epoch ms; undefined before the first survey. */
  readonly readAt: number | undefined;
  /** Why what was read may not be so any more; empty where it is. */
  readonly stale: string;
  /** In the order of the outputs; empty while a round is under way, which has its own list. */
  readonly escs: readonly SurveyLine[];
  /** The craft from above: which motors answered. */
  readonly drawn: readonly DrawnArm[];
  /** How many did, in the middle of the drawing. */
  readonly drawnNote: string;
  readonly silent: readonly Problem[];
  readonly findings: readonly Remark[];
  readonly controller: ControllerSheet | undefined;
}

export function surveySheet(q: CraftQuestion): SurveySheet {
  const {bench, craft, record, board, differences} = q;
  const {found} = record;
  const isRound = bench.isConnected && bench.isOnAdapter;
  return {
    asks: isRound ? 'round' : !found || !bench.isConnected ? 'connection' : undefined,
    canSurveyAgain: !!found && bench.isConnected && bench.isPowered && !bench.isOccupied && !bench.isOnAdapter,
    readAt: found?.at,
    stale: found && isStale(found, q) ? 'stale: battery or cable was out since' : '',
    escs: found && !isRound ? found.escs.map((esc) => surveyLine(esc, q)) : [],
    drawn: found ? drawnArms(found, craft) : [],
    drawnNote: found ? `${found.escs.length} of ${craft.arms.length} read` : '',
    silent: found ? silentEscs(found, q) : [],
    findings: found && differences ? surveyFindings(craft, found, board, differences) : [],
    controller: found?.controller && controllerSheet(found.controller),
  };
}

/** Each arm with its output's number; the one of an ESC that does not answer stands out. */
const drawnArms = ({escs}: Found, {arms, plan}: CraftQuestion['craft']): DrawnArm[] =>
  arms.map((_, arm): DrawnArm => {
    const output = plan.controller.arms.indexOf(arm);
    const isRead = escs.some((esc) => esc.output === output);
    return {sense: undefined, label: outputLabel(output), state: isRead ? 'ok' : 'diff'};
  });

const isStale = (found: Found, {bench}: CraftQuestion): boolean =>
  !bench.isConnected || !bench.isPowered || bench.cycles !== found.power.cycles;

function surveyLine(esc: FoundEsc, {craft}: CraftQuestion): SurveyLine {
  const {boot, identity, settings} = esc;
  return {
    ...escLine(esc, craft),
    serial: boot.serial,
    firmware: identity
      ? {text: firmwareText(esc), isOff: false}
      : {
          text: boot.applicationValid ? 'foreign firmware' : 'no application, stays in its bootloader',
          isOff: true,
        },
    bootloader: `rev ${boot.bootRevision}, ${boot.dialect}`,
    settings: settings ? {text: `layout ${settings.layout}`, isOff: false} : {text: 'not readable', isOff: true},
  };
}

/** ESCs that did not answer, and why, those of one reason together; those of a round that were not visited yet are not silent. */
function silentEscs({silent, power}: Found, q: CraftQuestion): Problem[] {
  const visited = silent.filter(({problem}) => problem.code !== 'not-visited');
  const told = visited.map(({output, problem}) => ({
    output,
    problem: withBatteryOn(problem, q.bench.isPowered, power.volts <= poweredVolts),
  }));
  return alike(told, ({problem: {code, meaning, remedy}}) => `${code} ${meaning} ${remedy}`).map((same) => ({
    ...same[0]!.problem,
    place: silentPlace(
      same.map(({output}) => output),
      q.craft,
    ),
  }));
}

function silentPlace(outputs: readonly number[], craft: Craft): string {
  const [first, ...more] = outputs;
  if (!more.length) return `Motor ${first! + 1}, ${armName(craft, first!)}, is silent`;
  const names = outputs.map((output) => `${output + 1} (${armName(craft, output)})`);
  return `Motors ${names.slice(0, -1).join(', ')} and ${names.at(-1)!} are silent`;
}

function controllerSheet({identity, config}: FoundController): ControllerSheet {
  const rows = controllerFields.map(({field, name}) => {
    const value = config[field];
    return {field, name, text: value === undefined ? 'not in its firmware' : formatControllerField(field, value)};
  });
  const isFilter = (field: keyof ControllerConfig) => chainFields.some((f) => f === field);
  const named = (inFilters: boolean) =>
    rows.flatMap(({field, name, text}) => (isFilter(field) === inFilters ? [{name, text}] : []));
  return {
    identity: [
      {name: 'Board', text: `${identity.board}, ${identity.clockMhz} MHz`},
      ...(identity.serial ? [{name: 'Serial', text: identity.serial}] : []),
      {name: 'Firmware', text: `${identity.firmware} ${identity.version}`},
    ],
    fields: named(false),
    filters: named(true),
  };
}

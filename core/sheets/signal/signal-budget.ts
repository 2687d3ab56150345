/** What Signal says of protocol and loop: findings on the plan, one loop to scale, every pair there is, those to prefer. */
import {pairChange, pairText, signalFindings, type SignalFinding} from '../../compare/signal-findings';
import {budgetOf} from '../../controller/budget-of';
import {controllerChips, keepsUsb} from '../../controller/firmware/chips';
import {offeredRates} from '../../controller/loop-rates';
import {asRunning, type ControllerPlan} from '../../controller/plan';
import {allPairs, loopNeed, preferredPairs} from '../../controller/preferred-pairs';
import {samePair, type PairVerdict, type SignalPlace} from '../../controller/signal-pair';
import {loadLimits, type LoopBudget} from '../../dshot/loop-budget';
import {isDigital, protocolName, type Protocol} from '../../dshot/protocol';
import {chips, findChip} from '../../firmware/chips';
import {wholePercent} from '../../words/percent';
import type {Choice} from '../choice';
import type {JudgedCraft} from '../craft-question';
export type {ControllerPlan};

/** What is looked at beside the plan. */
export interface BudgetNow {
  /** What a protocol and a loop rate have to go with on this craft; undefined before its flight controller was read. */
  readonly place: SignalPlace | undefined;
  /** Name of the slowest ESC chip of this craft; undefined where nobody knows it. */
  readonly chip: string | undefined;
  /** Another chip to look at, and another clock, MHz: '' and 0 for the craft's own. */
  readonly otherChip: string;
  readonly otherMhz: number;
}

interface BudgetSheet {
  readonly findings: readonly SignalFinding[];
  readonly form: BudgetForm;
  /** Found and plan on one scale; none before the flight controller was read. */
  readonly loops: LoopScale | undefined;
  /** Undefined before the flight controller was read. */
  readonly pairs: PairsSheet | undefined;
}

interface BudgetForm {
  readonly protocols: Choice<Protocol>[];
  readonly rates: Choice<number>[];
  /** What is planned of extended replies, or found where the plan is silent; undefined where there is no such field. */
  readonly extended: boolean | undefined;
}

export function budgetSheet(q: JudgedCraft, now: BudgetNow): BudgetSheet {
  const plan = q.craft.plan.controller;
  const {place} = now;
  const countedPoles = q.craft.motor.poles;
  return {
    findings: place ? signalFindings({plan, place, countedPoles}) : [],
    form: budgetForm(q),
    loops: place && loopScale(q, place),
    pairs: place && pairsSheet(q, now, place),
  };
}

function budgetForm({craft, record}: JudgedCraft): BudgetForm {
  const {replies, extendedReplies, loopHz} = craft.plan.controller;
  const found = record.found?.controller?.config.extendedReplies;
  return {
    protocols: Object.entries(protocolName).map(([value, label]) => ({value: value as Protocol, label})),
    rates: offeredRates(loopHz, record.found?.controller?.config.gyroHz).map((value) => ({value, label: kHz(value)})),
    extended: replies && found !== undefined ? (extendedReplies ?? found) : undefined,
  };
}

const kHz = (hz: number): string => `${hz / 1000} kHz`;

/** Loops drawn over time: all places in percent of the longest time that anything takes. */
export interface LoopScale {
  readonly loops: readonly LoopDrawing[];
  readonly ticks: readonly {readonly us: number; readonly at: number}[];
}

interface LoopDrawing {
  readonly title: 'found' | 'plan';
  readonly config: string;
  readonly length: string;
  /** Where the loop ends. */
  readonly end: number;
  readonly bars: readonly LoopBar[];
}

interface LoopBar {
  readonly name: string;
  readonly label: string;
  readonly parts: readonly {
    readonly kind: string;
    readonly name: string;
    readonly us: string;
    readonly width: number;
  }[];
  readonly limits: readonly {readonly at: number; readonly isMost: boolean}[];
  readonly sum: string;
  /** Why it does not fit; empty where it does. */
  readonly over: string;
}

/** Room right of the longest loop; share of the scale that ticks are drawn up to. */
const [room, tickShare] = [1.04, 0.96];
const tickSteps = [10, 20, 50, 100, 200, 250, 500];
const maxTicks = 7;

function loopScale({craft, record}: JudgedCraft, place: SignalPlace): LoopScale | undefined {
  const found = record.found?.controller;
  if (!found) return undefined;
  const rows = [
    {title: 'found', config: asRunning(found.config)},
    {title: 'plan', config: craft.plan.controller},
  ] as const;
  const budgets = rows.map(({config}) => budgetOf(config, place));
  const scaleUs = Math.max(...budgets.flatMap((b) => [b.periodUs * room, b.wire.totalUs, b.load * b.periodUs]));
  const at = (us: number): number => (100 * us) / scaleUs;
  const step = tickSteps.find((s) => scaleUs / s <= maxTicks) ?? 1000;
  return {
    loops: rows.map(({title, config}, i) => loopDrawing({title, config, budget: budgets[i]!, at})),
    ticks: Array.from({length: Math.floor((tickShare * scaleUs) / step) + 1}, (_, i) => ({
      us: i * step,
      at: at(i * step),
    })),
  };
}

interface DrawnLoop {
  readonly title: LoopDrawing['title'];
  readonly config: ControllerPlan;
  readonly budget: LoopBudget;
  readonly at: (us: number) => number;
}

function loopDrawing({title, config, budget, at}: DrawnLoop): LoopDrawing {
  const {protocol, replies, loopHz} = config;
  return {
    title,
    config: `${protocolName[protocol]}, replies ${replies ? 'on' : 'off'}, ${kHz(loopHz)}`,
    length: `loop ${budget.periodUs.toFixed(0)} µs`,
    end: at(budget.periodUs),
    bars: [wireBar(budget, isDigital(protocol) ? 'command' : 'longest pulse', at), taskBar(budget, at)],
  };
}

type Part = readonly [kind: string, name: string, us: number];
const drawnParts = (parts: readonly Part[], at: DrawnLoop['at']): LoopBar['parts'] =>
  parts.map(([kind, name, us]) => ({kind, name, us: us.toFixed(1), width: at(us)}));

function wireBar({wire, periodUs, wireFits}: LoopBudget, command: string, at: DrawnLoop['at']): LoopBar {
  const slack = periodUs - wire.totalUs;
  const parts: Part[] = [
    ['command', command, wire.commandUs],
    ...(wire.replyUs
      ? ([
          ['pause', 'pause', wire.pauseUs],
          ['reply', 'reply', wire.replyUs],
        ] as const)
      : []),
  ];
  return {
    ...{name: 'wire', parts: drawnParts(parts, at), limits: []},
    label: `Motor wires ${wire.totalUs.toFixed(0)} of ${periodUs.toFixed(0)} µs`,
    sum: `= ${wire.totalUs.toFixed(1)} µs${slack > 0 ? `, ${slack.toFixed(1)} left` : ''}`,
    over: wireFits ? '' : `${(-slack).toFixed(1)} µs too long`,
  };
}

function taskBar({load, periodUs, baseUs, filtersUs, protocolUs}: LoopBudget, at: DrawnLoop['at']): LoopBar {
  const parts: Part[] = [
    ['base', 'base', baseUs],
    ['filters', 'filters', filtersUs],
    ['protocol', 'protocol', protocolUs],
  ];
  return {
    ...{name: 'task', parts: drawnParts(parts, at)},
    limits: [loadLimits.good, loadLimits.most].map((share) => ({
      at: at(share * periodUs),
      isMost: share === loadLimits.most,
    })),
    label: `Gyro task ${wholePercent(load)} of the loop`,
    sum: `= ${(load * periodUs).toFixed(1)} µs, ${wholePercent(load)}`,
    over: load > loadLimits.most ? 'overloaded' : '',
  };
}

/** A pair as a cell of the table: choosing it plans protocol, replies, loop and poles at once. */
export interface PairCell {
  readonly loopHz: number;
  readonly verdict: PairVerdict['verdict'];
  readonly mark: string;
  /** What decides, as short as a cell needs it. */
  readonly figure: string;
  readonly name: string;
  readonly why: string;
  readonly isPlanned: boolean;
  readonly change: Partial<ControllerPlan>;
}

interface PairRow {
  readonly name: string;
  readonly cells: readonly PairCell[];
  /** The digital protocols begin here. */
  readonly begins: boolean;
}

export interface PairsSheet {
  readonly chips: Choice<string>[];
  readonly clocks: Choice<number>[];
  /** Another chip or clock than the craft's is looked at. */
  readonly isOther: boolean;
  readonly rates: readonly string[];
  readonly rows: readonly PairRow[];
  readonly preferred: readonly {
    readonly name: string;
    readonly left: string;
    readonly change: Partial<ControllerPlan>;
  }[];
  readonly preferredWhy: string;
}

const marks: Readonly<Record<PairVerdict['verdict'], string>> = {feasible: '●', tight: '◐', impossible: '✕'};

function pairsSheet({craft}: JudgedCraft, now: BudgetNow, own: SignalPlace): PairsSheet {
  const {otherChip, otherMhz} = now;
  const ownPlan = craft.plan.controller;
  const plan = otherMhz ? {...ownPlan, clockMhz: 0} : ownPlan;
  const place = {...own, chip: findChip(otherChip) ?? own.chip, clockMhz: otherMhz || own.clockMhz};
  const verdicts = allPairs(plan, place);
  const changeOf = ({pair}: PairVerdict) => pairChange(pair, craft.motor.poles);
  const cellOf = (v: PairVerdict): PairCell => ({
    ...{loopHz: v.pair.loopHz, verdict: v.verdict, mark: marks[v.verdict], figure: decidingFigure(v)},
    ...{name: pairText(v.pair), why: v.why},
    ...{isPlanned: samePair(v.pair, ownPlan), change: changeOf(v)},
  });
  return {
    chips: chipChoices(now.chip),
    clocks: clockChoices(ownPlan.clockMhz || own.clockMhz),
    isOther: otherChip !== '' || otherMhz !== 0,
    rates: [...new Set(verdicts.map((v) => v.pair.loopHz))].map(kHz),
    rows: pairRows(verdicts, cellOf),
    preferred: preferredPairs(plan, place).map((v) => ({
      ...{name: pairText(v.pair), change: changeOf(v)},
      left: `(${v.slackUs.toFixed(0)} µs left, ${wholePercent(v.budget.load)})`,
    })),
    preferredWhy: `With replies, since filters follow them. ${loopNeed(plan, place).why} Of the protocols the slowest DShot that still arrives within 60 µs, because noise disturbs it least.`,
  };
}

function pairRows(verdicts: readonly PairVerdict[], cellOf: (v: PairVerdict) => PairCell): PairRow[] {
  const rows = new Map<string, PairVerdict[]>();
  for (const v of verdicts) {
    const name = `${protocolName[v.pair.protocol]}${v.pair.replies ? ' with replies' : ''}`;
    rows.set(name, [...(rows.get(name) ?? []), v]);
  }
  return [...rows].map(([name, own]) => ({
    ...{name, cells: own.map(cellOf)},
    begins: own[0]!.pair.protocol === 'dshot150',
  }));
}

function decidingFigure({fault, verdict, slackUs, budget}: PairVerdict): string {
  if (fault === 'beyond the gyro') return 'gyro';
  if (fault === 'too fast for the ESC') return 'ESC';
  const isOfLoad = fault === 'overloaded' || (verdict === 'tight' && budget.load > loadLimits.good);
  if (isOfLoad) return wholePercent(budget.load);
  if (slackUs < 0 && verdict !== 'impossible') return 'timer';
  return `${slackUs < 0 ? '−' : ''}${Math.abs(slackUs).toFixed(0)} µs`;
}

const chipChoices = (own: string | undefined): Choice<string>[] => [
  {value: '', label: own === undefined ? 'not known' : `this craft's, ${own}`},
  ...Object.values(chips).map(({name, fastestReplyDshot}) => ({
    value: name,
    label: `${name}, DShot${fastestReplyDshot}`,
  })),
];

/** Clocks at which USB is reached: rated ones and raised ones. */
const clockChoices = (ownMhz: number): Choice<number>[] => [
  {value: 0, label: `this craft's, ${ownMhz} MHz`},
  ...controllerChips.flatMap((chip) =>
    [chip.ratedMhz, ...chip.raisedMhz.filter((mhz) => keepsUsb(chip.name, mhz))].map((mhz) => ({
      value: mhz,
      label: `${chip.name}, ${mhz} MHz${mhz === chip.ratedMhz ? '' : ' raised'}`,
    })),
  ),
];

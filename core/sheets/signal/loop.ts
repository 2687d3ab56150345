/** What Arming says of the loop: the rates that this flight controller can hold, and what it measures of itself. */
import {budgetOf} from '../../controller/budget-of';
import {isOnlyWithoutUsb, knowsUsb, raisedWhen, runningMhz} from '../../controller/raised-clock';
import type {SettingEdits} from '../../controller/settings/planned-settings';
import {findControllerChip, keepsUsb} from '../../controller/firmware/chips';
import {loopRates} from '../../controller/loop-rates';
import type {PairVerdict, SignalPlace} from '../../controller/signal-pair';
import {plannedUs} from '../../controller/tasks';
import {loadLimits, type LoopBudget} from '../../dshot/loop-budget';
import {protocolName} from '../../dshot/protocol';
import type {ControllerTask} from '../../link/operations';
import {gyroLoad, shareOf, wholeLoad} from '../../link/task-load';
import {armingConfigs} from '../arming/arming';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';

interface LoopNow {
  /** What a protocol and a loop rate have to go with; undefined before the flight controller was read. */
  readonly place: SignalPlace | undefined;
  /** Tasks as the processor measures them; empty while nobody reads them. */
  readonly tasks: readonly ControllerTask[];
}

interface RateLine {
  readonly loopHz: number;
  readonly name: string;
  readonly base: string;
  readonly filters: string;
  readonly protocol: string;
  /** Share of the loop, 0…1 and beyond. */
  readonly load: number;
  readonly tag: 'ok' | 'wait' | 'diff';
  readonly word: string;
  readonly why: string;
  readonly isPlanned: boolean;
  readonly canPlan: boolean;
}

interface TaskLine {
  readonly name: string;
  readonly runs: string;
  readonly takes: string;
  readonly longest: string;
  readonly share: string;
  /** Empty for a task that the plan does not compute. */
  readonly planned: string;
  readonly isGyro: boolean;
}

export interface TasksSheet {
  readonly lines: readonly TaskLine[];
  readonly gyroUs: string;
  readonly gyroLoad: number;
  readonly gyroShare: string;
  readonly plannedLoad: number;
  readonly plannedShare: string;
  readonly allShare: string;
}

interface ClockChoice {
  readonly label: string;
  readonly value: number;
  readonly disabled: boolean;
}

export interface LoopSheet {
  readonly board: string;
  readonly rates: readonly RateLine[];
  /** Undefined while nothing is measured. */
  readonly tasks: TasksSheet | undefined;
  /** Clocks that the processor may be given, MHz, 0 for the rated one; none where its firmware knows no such field. */
  readonly clocks: ClockChoice[];
  readonly clockMhz: number;
  readonly isRaised: boolean;
  /** A raised clock for the time without a cable alone; undefined where its firmware cannot keep one for that. */
  readonly withoutUsb: WithoutUsb | undefined;
}

interface WithoutUsb {
  readonly text: string;
  /** What one press plans. */
  readonly action: {readonly text: string; readonly edits: SettingEdits};
}

const tags = {feasible: 'ok', tight: 'wait', impossible: 'diff'} as const;
const taskNames: Readonly<Record<string, string>> = {
  loop: 'gyro and control loop',
  filters: 'filters',
  motors: 'motor wires',
  receiver: 'receiver',
  attitude: 'attitude',
  cable: 'cable',
  housekeeping: 'housekeeping',
};

const usText = (us: number): string => `${us.toFixed(1)} µs`;
const shareText = (share: number): string => `${(share * 100).toFixed(1)} %`;

/** Undefined before the flight controller was read. */
export function loopSheet(q: JudgedCraft, {place, tasks}: LoopNow): LoopSheet | undefined {
  const controller = q.record.found?.controller;
  if (!controller || !place) return undefined;
  const {planned} = armingConfigs(q);
  const {identity, config} = controller;
  const {protocol, replies, loopHz} = planned;
  const clockMhz = planned.clockMhz ?? 0;
  const isOnly = isOnlyWithoutUsb(controller.settings?.values);
  const onUsb = isOnly ? {clockMhz: 0} : config;
  return {
    board: `${identity.board} at ${runningMhz(onUsb, identity.clockMhz)} MHz, gyro at ${config.gyroHz / 1000} kHz; planned are ${protocolName[protocol]}${replies ? ' with replies' : ''}, ${loopHz / 1000} kHz.`,
    rates: loopRates(planned, place).map((rate) => rateLine(rate, loopHz)),
    tasks: tasks.length ? tasksSheet(tasks, budgetOf(planned, place)) : undefined,
    clocks: config.clockMhz === undefined ? [] : clocksOf(identity, isOnly),
    ...{clockMhz, isRaised: clockMhz !== 0},
    withoutUsb: withoutUsb(q),
  };
}

const rateLine = ({pair, budget, verdict, fault, why}: PairVerdict, plannedHz: number): RateLine => ({
  ...{loopHz: pair.loopHz, name: `${pair.loopHz / 1000} kHz`, load: budget.load},
  ...{base: usText(budget.baseUs), filters: usText(budget.filtersUs), protocol: usText(budget.protocolUs)},
  ...{tag: tags[verdict], word: fault ?? verdict, why},
  ...{isPlanned: pair.loopHz === plannedHz, canPlan: verdict !== 'impossible'},
});

function tasksSheet(tasks: readonly ControllerTask[], budget: LoopBudget): TasksSheet {
  const gyroUs = tasks.reduce((sum, {gyro, us}) => sum + (gyro ? us : 0), 0);
  return {
    lines: tasks.map((task) => taskLine(task, plannedUs(budget, task))),
    ...{gyroUs: usText(gyroUs), gyroLoad: gyroLoad(tasks), gyroShare: shareText(gyroLoad(tasks))},
    ...{plannedLoad: budget.load, plannedShare: shareText(budget.load), allShare: shareText(wholeLoad(tasks))},
  };
}

const taskLine = (task: ControllerTask, planned: number | undefined): TaskLine => ({
  name: `${taskNames[task.name] ?? task.name}${task.gyro ? ', part of the gyro task' : ''}`,
  ...{runs: `${task.hz} /s`, takes: usText(task.us), longest: usText(task.mostUs), share: shareText(shareOf(task))},
  ...{planned: planned === undefined ? '' : usText(planned), isGyro: task.gyro},
});

function withoutUsb(q: JudgedCraft): WithoutUsb | undefined {
  const held = heldAndPlanned(q);
  if (!held || !knowsUsb(held.entries)) return undefined;
  const [is, will] = [held.found, held.planned].map(isOnlyWithoutUsb);
  const to = (value: string) => ({[raisedWhen.key]: value});
  return {
    text: is
      ? 'A raised clock is used only without USB: on this cable the board runs as it is rated, and the load measured here is that of the rated clock. On the battery alone it starts a second time at the raised clock, so the ESCs may begin their start-up tones twice.'
      : will
        ? 'Planned: a raised clock only without USB. Carry that out first; after it, clocks without USB can be planned too.'
        : 'A raised clock is used on the cable too.',
    action: will
      ? {text: 'Use it on the cable too', edits: to(raisedWhen.always)}
      : {text: 'Use it only without USB', edits: to(raisedWhen.withoutUsb)},
  };
}

/** Clocks at which USB has no 48 MHz cannot be chosen, unless the board runs as rated on USB: it could be reached by its loader only. */
function clocksOf(
  {chip: name, clockMhz}: {readonly chip: string; readonly clockMhz: number},
  isOnlyWithout: boolean,
): ClockChoice[] {
  const chip = findControllerChip(name);
  if (!chip) return [];
  return [
    {value: 0, label: `${clockMhz} MHz, as rated`, disabled: false},
    ...chip.raisedMhz.map((mhz) => {
      const speaks = keepsUsb(chip.name, mhz);
      return {value: mhz, label: `${mhz} MHz${speaks ? '' : ', without USB'}`, disabled: !speaks && !isOnlyWithout};
    }),
  ];
}

/** A load as a bar: where its end and the lines of good practice and of the most lie, percent of the bar. */
interface LoadBar {
  readonly used: number;
  /** Frame for what the plan would make of it; undefined where it is that already. */
  readonly planned: number | undefined;
  readonly good: number;
  readonly most: number;
}

export function loadBar(load: number, planned: number | undefined): LoadBar {
  const width = (share: number): number => Math.min(100, share * 100);
  return {
    used: width(load),
    planned: planned === undefined ? undefined : width(planned),
    ...{good: loadLimits.good * 100, most: loadLimits.most * 100},
  };
}

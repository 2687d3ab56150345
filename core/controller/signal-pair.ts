/** Whether a protocol, with replies or without, goes with a loop rate on a flight controller and the chip of an ESC. */
import {loadLimits, type LoopBudget} from '../dshot/loop-budget';
import {
  bitUs,
  digitalProtocols,
  isDigital,
  protocolName,
  protocolRate,
  pulseProtocols,
  type Protocol,
} from '../dshot/protocol';
import {maxRateOff, pauseUs} from '../dshot/wire-time';
import type {Chip} from '../firmware/chips';
import {budgetOf} from './budget-of';
import type {ControllerConfig, ControllerPlan} from './plan';

export interface SignalPair {
  readonly protocol: Protocol;
  readonly replies: boolean;
  readonly loopHz: number;
}

/** What the pair has to go with. */
export interface SignalPlace {
  readonly gyroHz: ControllerConfig['gyroHz'];
  /** Rated; a raised clock of the plan takes its place. */
  readonly clockMhz: number;
  readonly outputs: number;
  /** Of the ESCs; undefined where nobody knows it. */
  readonly chip?: Pick<Chip, 'name' | 'fastestReplyDshot' | 'tellsMore'> | undefined;
  /** Turns per second of a motor at full throttle; undefined where nobody knows it. */
  readonly fastestHz?: number | undefined;
}

/** The place that a craft is: its flight controller as found, and the slowest chip of its ESCs. */
export const placeOf = (
  {identity, config}: {readonly identity: Pick<SignalPlace, 'clockMhz'>; readonly config: Pick<SignalPlace, 'gyroHz'>},
  outputs: number,
  chip: SignalPlace['chip'],
): SignalPlace => ({gyroHz: config.gyroHz, clockMhz: identity.clockMhz, outputs, chip});

export const samePair = (a: SignalPair, b: SignalPair): boolean =>
  a.protocol === b.protocol && a.replies === b.replies && a.loopHz === b.loopHz;

type PairFault = 'beyond the gyro' | 'no whole samples' | 'too fast for the ESC' | 'wire too slow' | 'overloaded';

export interface PairVerdict {
  readonly pair: SignalPair;
  readonly budget: LoopBudget;
  readonly verdict: 'feasible' | 'tight' | 'impossible';
  /** What makes it impossible. */
  readonly fault: PairFault | undefined;
  /** A sentence with the figure that decides. */
  readonly why: string;
  /** What is left of the loop by the exchange on the wire, µs; negative where it does not fit. */
  readonly slackUs: number;
}

/** Judges one pair with the other fields of the plan: filters and a raised clock. */
export function judgePair(plan: ControllerPlan, pair: SignalPair, place: SignalPlace): PairVerdict {
  const budget = budgetOf({...plan, ...pair}, place);
  const slackUs = budget.periodUs - budget.wire.totalUs;
  const fault = faultOf(pair, budget, place);
  if (fault) return {pair, budget, slackUs, verdict: 'impossible', ...fault};
  const tight = tightness(pair, budget);
  if (tight) return {pair, budget, slackUs, verdict: 'tight', fault: undefined, why: tight};
  const {totalUs, longestUs} = budget.wire;
  const why = `Command and reply take ${us(totalUs)} of ${us(budget.periodUs)} µs, ${us(longestUs)} at its longest; the gyro task ${percent(budget.load)}.`;
  return {pair, budget, slackUs, verdict: 'feasible', fault: undefined, why};
}

/** A rate that is rounded to whole Hz still takes whole samples. */
const sampleTolerance = 0.002;

interface Fault {
  readonly fault: PairFault;
  readonly why: string;
}

/** What a rate asks of the gyro that it does not give. */
function gyroFault({loopHz}: SignalPair, gyroHz: number): Fault | undefined {
  const samples = gyroHz / loopHz;
  if (samples < 1)
    return {
      fault: 'beyond the gyro',
      why: `The gyro gives a sample every ${us(1e6 / gyroHz)} µs, the loop would ask every ${us(1e6 / loopHz)}.`,
    };
  if (Math.abs(samples - Math.round(samples)) <= sampleTolerance) return undefined;
  return {
    fault: 'no whole samples',
    why: `The gyro gives ${samples.toFixed(2)} samples in a turn of the loop; the loop runs on every so many of them, a whole number (common practice).`,
  };
}

function faultOf(
  pair: SignalPair,
  {load, periodUs, wire, wireFits}: LoopBudget,
  {gyroHz, chip}: SignalPlace,
): Fault | undefined {
  const {protocol, replies} = pair;
  const ofGyro = gyroFault(pair, gyroHz);
  if (ofGyro) return ofGyro;
  if (isDigital(protocol) && chip && !hears(chip, protocol, replies)) {
    const rate = chip.fastestReplyDshot;
    const least = bitUs(`dshot${rate}`);
    return {
      fault: 'too fast for the ESC',
      why: replies
        ? `${chip.name} answers bits of ${least.toFixed(2)} µs at the shortest, DShot${rate}; ${protocolName[protocol]} has ${bitUs(protocol).toFixed(2)}.`
        : `${chip.name} cannot receive bits of ${bitUs(protocol).toFixed(2)} µs.`,
    };
  }
  if (!wireFits) {
    const parts = wire.replyUs
      ? `command ${wire.commandUs.toFixed(1)} + pause ${wire.pauseUs} + reply ${wire.replyUs.toFixed(1)}`
      : `a ${isDigital(protocol) ? 'command' : 'pulse at full throttle'}`;
    const over = wire.totalUs - periodUs;
    return {
      fault: 'wire too slow',
      why:
        over > 0
          ? `On the wire ${parts} takes ${us(wire.totalUs)} µs, ${us(over)} more than the loop's ${us(periodUs)}.`
          : `On the wire ${parts} takes ${us(wire.totalUs)} µs, all of the loop: nothing is left between two of them.`,
    };
  }
  if (load <= loadLimits.most) return undefined;
  return {
    fault: 'overloaded',
    why: `The gyro task takes ${us(load * periodUs)} of ${us(periodUs)} µs, ${percent(load)}; ${maxLoadText}.`,
  };
}

/** What the upper line of the load is, and no more. */
export const maxLoadText = `common practice is ${percent(loadLimits.most)} at the very most`;

/** Whether the chip of an ESC hears a protocol; without replies twice as fast a one as it can answer. */
export const hears = ({fastestReplyDshot}: Pick<Chip, 'fastestReplyDshot'>, protocol: Protocol, replies: boolean) =>
  protocolRate[protocol] <= fastestReplyDshot * (replies ? 1 : 2);

function tightness({protocol}: SignalPair, {load, periodUs, wire, wireAlwaysFits}: LoopBudget): string | undefined {
  if (load > loadLimits.good)
    return `The gyro task takes ${us(load * periodUs)} of ${us(periodUs)} µs, ${percent(load)}; under ${percent(loadLimits.good)} is good practice.`;
  if (protocol === 'analog')
    return `A pulse takes up to ${us(wire.totalUs)} µs: the ESC receives one of ${Math.ceil(wire.totalUs / periodUs)} loops.`;
  if (wireAlwaysFits) return undefined;
  const most = wire.replyUs ? ` and a pause of ${pauseUs.most} µs` : '';
  return `Command and reply typically take ${us(wire.totalUs)} of ${us(periodUs)} µs; with bits that are ${percent(maxRateOff)} slow${most} they take ${wire.longestUs.toFixed(1)}.`;
}

/** Every protocol with replies and without; a pulse has none. */
export const protocolRows: readonly Omit<SignalPair, 'loopHz'>[] = [
  ...pulseProtocols.map((protocol) => ({protocol, replies: false})),
  ...digitalProtocols.map((protocol) => ({protocol, replies: false})),
  ...digitalProtocols.map((protocol) => ({protocol, replies: true})),
];

function us(value: number): string {
  return value.toFixed(value < 10 ? 1 : 0);
}
function percent(share: number): string {
  return `${(share * 100).toFixed(0)} %`;
}

/** What is asked of the replies of one craft on one bench. */
import type {Craft} from '../../craft/craft';
import {idleTimingShare} from '../../motor/desync';
import {bothWays} from '../../settings/parameters/special-values';
import type {Found} from '../../bench/found';
import type {TallyQuestion} from '../../replies/reply-tally';
import type {ReplyMeasureQuestion} from './measure-replies';
import {runaway, type GuardQuestion} from '../hold/motion-guard';

export function replyQuestion(craft: Craft, found: Found | undefined): ReplyMeasureQuestion {
  const {poles, idlePercent} = craft.plan.controller;
  const settingsOf = (output: number) => found?.escs.find((e) => e.output === output)?.settings?.values;
  return {
    outputs: craft.arms.length,
    poles,
    kv: craft.motor.kv,
    idle: idlePercent / 100,
    bothWays: (found?.escs ?? []).filter((e) => e.settings?.values.rotation === bothWays).map((e) => e.output),
    timingShares: craft.arms.map((_, output) => idleTimingShare(settingsOf(output)?.timing)),
  };
}

/** Currents that a bench is wired for: so much out of the pack, A, for each motor that turns. */
const ampsPerMotor = 25;

/** What some motors of this craft must not do while a script turns them. */
export function guardQuestion(craft: Craft, found: Found | undefined, outputs: readonly number[]): GuardQuestion {
  const {poles} = craft.motor;
  return {outputs, poles, seenKv: seenKv(craft, found, outputs), mostAmps: ampsPerMotor * outputs.length};
}

/** What a stress run of this craft is counted by. @param volts of the pack at rest, V. */
export function tallyQuestion(craft: Craft, found: Found | undefined, volts: number): TallyQuestion {
  const all = craft.arms.map((_, output) => output);
  // The controller's own count makes its speeds; what it tells is eRPM.
  const maxRpm = Math.max(1, runaway * seenKv(craft, found, all) * volts);
  return {outputs: all.length, poles: craft.motor.poles, mostRpm: maxRpm};
}

/** rpm/V of the motor whose timing makes it the fastest. */
function seenKv(craft: Craft, found: Found | undefined, outputs: readonly number[]): number {
  const {kv, timingShares} = replyQuestion(craft, found);
  return kv / Math.min(...outputs.map((output) => timingShares[output]!));
}

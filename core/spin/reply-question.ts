/** What is asked of the replies of one craft on one bench. */
import type {Craft} from '../craft/craft';
import {idleTimingShare} from '../motor/desync';
import {bothWays} from '../settings/parameters/special-values';
import type {Found} from '../bench/found';
import type {TallyQuestion} from '../proof/reply-tally';
import type {ReplyMeasureQuestion} from './measure-replies';

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

/** A free motor turns no faster than KV and volts say; what is told beyond this much of it is no speed. */
const runaway = 1.35;

/** What a stress run of this craft is counted by. @param volts of the pack at rest, V. */
export function tallyQuestion(craft: Craft, found: Found | undefined, volts: number): TallyQuestion {
  const {outputs, kv, timingShares} = replyQuestion(craft, found);
  const seenKv = kv / Math.min(...timingShares);
  // The controller's own count makes its speeds; what it tells is eRPM.
  return {outputs, poles: craft.motor.poles, mostRpm: Math.max(1, runaway * seenKv * volts)};
}

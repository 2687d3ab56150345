/** What is asked of the replies of one craft on one bench. */
import type {Craft} from '../craft/craft';
import {idleTimingShare} from '../motor/desync';
import {bothWays} from '../settings/parameters/special-values';
import type {Found} from '../bench/found';
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

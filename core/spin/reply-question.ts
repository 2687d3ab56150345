/** What is asked of the replies of one craft on one bench. */
import type {Craft} from '../craft/craft';
import {bothWays} from '../settings/parameters/special-values';
import type {Found} from '../bench/found';
import type {ReplyMeasureQuestion} from './measure-replies';

export function replyQuestion(craft: Craft, found: Found | undefined): ReplyMeasureQuestion {
  const {poles, idlePercent} = craft.plan.controller;
  return {
    outputs: craft.arms.length,
    poles,
    kv: craft.motor.kv,
    idle: idlePercent / 100,
    bothWays: (found?.escs ?? []).filter((e) => e.settings?.values.rotation === bothWays).map((e) => e.output),
  };
}

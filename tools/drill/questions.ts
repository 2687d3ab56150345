/** What a drill asks of a work order: what is left out, which images are offered, and what follows when the bench has changed. */
import type {Found} from '@core/bench/found';
import type {Craft} from '@core/craft/craft';
import {controllerBoardOf} from '@core/order/controller-work';
import type {OrderQuestion, WorkOrder} from '@core/order/work-order';
import type {Result} from '@core/problem';
import {makeWorkOrder} from '@core/run/order/make-order';
import {leavableKinds, turns, writesImages} from '@core/run/steps/step-kinds';
import type {Random} from '@simulator/random';
import {MemoryShelf} from '@simulator/testing/shelf';
import {tame} from './tame';

export const shelf = new MemoryShelf();
const leaveShare = 0.12;

export const imagesFor = (craft: Craft, found: Found) => {
  const board = controllerBoardOf(found, craft)?.board;
  return {
    imageFor: shelf.imageFor(craft),
    controllerImage: board === undefined ? undefined : shelf.controllerImage(craft, board),
  };
};

/** The proofs that are held turn motors for seconds and leave flash alone: core/run/runner.test.ts has them. */
export const withoutReplies = (order: WorkOrder): WorkOrder => ({
  ...order,
  steps: order.steps.filter((s) => !turns(s)),
});

/** The order that follows from what is there now. What an ESC holds beside the plan may be refused: then a person plans that too. */
export function newOrder(q: OrderQuestion): {readonly made: Result<WorkOrder>; readonly craft: Craft} {
  const {craft, found} = q;
  const made = makeWorkOrder({...q, ...imagesFor(craft, found)});
  if (made.ok) return {made, craft};
  const amended = tame(craft, found, shelf.imageFor(craft));
  return {made: makeWorkOrder({...q, craft: amended, ...imagesFor(amended, found)}), craft: amended};
}

/** What the person leaves out: now and then one motor, now and then one kind of step. */
export function leftOut({escs}: Found, random: Random): Pick<OrderQuestion, 'leave' | 'leaveSteps'> {
  const leave = escs.length && random.next() < leaveShare ? [escs[random.below(escs.length)]!.output] : [];
  const leaveSteps = random.next() < leaveShare ? [leavableKinds[random.below(leavableKinds.length)]!.kind] : [];
  return {leave, leaveSteps};
}

/** Offers images of other boards, variants and dead times as the planned one; counts those that got into an order: none may. */
export function wrongImagesTaken(craft: Craft, found: Found, random: Random): number {
  const wrong = shelf.find((r) => (r.board !== craft.escBoard || r.variant.startsWith('heli')) && random.next() < 0.2);
  const built = wrong && makeWorkOrder({id: 'x', at: 0, craft, found, imageFor: () => wrong});
  return built?.ok && built.value.steps.some(writesImages) ? 1 : 0;
}

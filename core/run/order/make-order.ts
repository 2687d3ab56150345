/** Work orders and roll-backs with every kind of step that there is. */
import {buildRollBack, type RollBackQuestion} from '../../order/roll-back';
import {buildWorkOrder, type OrderQuestion, type WorkOrder} from '../../order/work-order';
import type {Result} from '../../problem';
import {stepKinds} from '../steps/step-kinds';

/** The order that brings what was found to the plan, or why there is none. */
export const makeWorkOrder = (question: OrderQuestion): Result<WorkOrder> => buildWorkOrder(question, stepKinds);
/** The order that puts back what another one changed, or why there is none. */
export const makeRollBack = (question: RollBackQuestion): Result<WorkOrder> => buildRollBack(question, stepKinds);

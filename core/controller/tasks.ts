/** What the loop budget of a plan says of the tasks that a flight controller measures. */
import type {LoopBudget} from '../dshot/loop-budget';
import type {ControllerTask} from '../link/operations';

/** What a budget says of a part of the gyro task, µs; undefined for a task that it does not compute. */
export function plannedUs(budget: LoopBudget, {name, gyro}: Pick<ControllerTask, 'name' | 'gyro'>): number | undefined {
  if (!gyro) return undefined;
  const parts: Readonly<Record<string, number>> = {
    loop: budget.baseUs,
    filters: budget.filtersUs,
    motors: budget.protocolUs,
  };
  return parts[name];
}

/** Where the time of a flight controller's processor goes, as it measures it, beside what is computed for the plan. */
import type {LoopBudget} from '../dshot/loop-budget';
import type {ControllerTask} from '../link/operations';

/** Share of its time that a task takes, 0…1. */
export const shareOf = ({hz, us}: Pick<ControllerTask, 'hz' | 'us'>): number => (hz * us) / 1e6;

/** Share of the loop that the gyro task takes: its parts alone count, as they have to end within one loop. */
export const gyroLoad = (tasks: readonly ControllerTask[]): number =>
  tasks.reduce((sum, task) => sum + (task.gyro ? shareOf(task) : 0), 0);

/** Share of the processor's time that all tasks take. */
export const wholeLoad = (tasks: readonly ControllerTask[]): number =>
  tasks.reduce((sum, task) => sum + shareOf(task), 0);

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

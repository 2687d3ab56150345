/** Shares of a flight controller's time, from its tasks as it measures them. */
import type {ControllerTask} from './operations';

/** Share of its time that a task takes, 0…1. */
export const shareOf = ({hz, us}: Pick<ControllerTask, 'hz' | 'us'>): number => (hz * us) / 1e6;

/** Share of the loop that the gyro task takes: its parts alone count, as they have to end within one loop. */
export const gyroLoad = (tasks: readonly ControllerTask[]): number =>
  tasks.reduce((sum, task) => sum + (task.gyro ? shareOf(task) : 0), 0);

/** Share of the processor's time that all tasks take. */
export const wholeLoad = (tasks: readonly ControllerTask[]): number =>
  tasks.reduce((sum, task) => sum + shareOf(task), 0);

/** Where the time of the simulated flight controller's processor goes, as it measures it. */
import type {LoopBudget} from '@core/dshot/loop-budget';
import type {ControllerTask, WireConfig} from '@core/link/operations';
import type {Random} from '../../random';

/** Cycles and rates of what runs beside the gyro task: entries of the simulated controllers. */
const beside = {
  receiver: {cycles: 2_600, hz: 111},
  attitude: {cycles: 5_200, hz: 100},
  cable: {cycles: 3_800, hz: 200},
  housekeeping: {cycles: 9_000, hz: 20},
} as const;
/** A task takes a little less or more each time, and longer when another one comes in between: shares. */
const [scatter, maxScatter] = [0.012, 0.18];

export function tasksNow(
  budget: LoopBudget,
  {config, clockMhz, random}: {readonly config: WireConfig; readonly clockMhz: number; readonly random: Random},
): ControllerTask[] {
  const task = (name: string, {hz, us}: {readonly hz: number; readonly us: number}, gyro: boolean): ControllerTask => {
    const mean = us * (1 + scatter * random.normal());
    return {name, hz, us: mean, mostUs: mean * (1 + maxScatter * (0.5 + random.next())), gyro};
  };
  const inLoop = (us: number) => ({hz: config.loopHz, us});
  const other = (name: keyof typeof beside) =>
    task(name, {hz: beside[name].hz, us: beside[name].cycles / clockMhz}, false);
  return [
    task('loop', inLoop(budget.baseUs), true),
    task('filters', inLoop(budget.filtersUs), true),
    task('motors', inLoop(budget.protocolUs), true),
    other('receiver'),
    ...(config.accelerometer === false ? [] : [other('attitude')]),
    other('cable'),
    other('housekeeping'),
  ];
}

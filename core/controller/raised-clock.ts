/** The clock of a flight controller's processor: the one it is rated for, or a raised one. */
import type {ControllerFields} from './plan';

/** MHz that it runs at with a configuration: 0 or none there means as it is rated. */
export const runningMhz = ({clockMhz}: Pick<ControllerFields, 'clockMhz'>, ratedMhz: number): number =>
  clockMhz || ratedMhz;

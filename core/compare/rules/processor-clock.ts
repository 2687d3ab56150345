/** Rules about a raised clock of the flight controller's processor. */
import {keepsUsb} from '../../controller/firmware/chips';
import type {Rule} from './rule';

const asRated = 'Plan the clock as it is rated; slow the loop down on the Arming station where the load is too high.';

export const clockRules: readonly Rule[] = [
  {
    id: 'clock-without-usb',
    severity: 'refuse',
    keys: [],
    remedy: asRated,
    check: ({craft, processor}) => {
      const {clockMhz} = craft.plan.controller;
      return clockMhz && processor && !keepsUsb(processor.chip, clockMhz)
        ? {
            meaning: `At ${clockMhz} MHz the ${processor.chip} has no 48 MHz for USB: the board would disappear from USB, and its settings could not be checked.`,
          }
        : undefined;
    },
  },
  {
    id: 'clock-raised',
    severity: 'warn',
    keys: [],
    remedy: asRated,
    check: ({craft, processor}) => {
      const {clockMhz} = craft.plan.controller;
      return clockMhz && (!processor || clockMhz > processor.clockMhz)
        ? {
            meaning: `${clockMhz} MHz is above what the processor is rated for${processor ? ` (${processor.clockMhz})` : ''}: it runs hotter, may stop in flight, and may not come back; plugged in with its button held or its pads bridged it forgets it.`,
          }
        : undefined;
    },
  },
];

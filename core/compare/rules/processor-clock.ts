/** Rules about a raised clock of the flight controller's processor. */
import {keepsUsb} from '../../controller/firmware/chips';
import {isOnlyWithoutUsb, raisedWhen} from '../../controller/raised-clock';
import type {Craft} from '../../craft/craft';
import type {Rule} from './rule';

const asRated = 'Plan the clock as it is rated; slow the loop down on the Arming station where the load is too high.';

/** The plan leaves it so that the raised clock is used only without USB. */
function staysSo({plan: {settings}}: Craft): boolean {
  const planned = settings?.[raisedWhen.key];
  return planned === undefined || planned.value === raisedWhen.withoutUsb;
}

export const clockRules: readonly Rule[] = [
  {
    id: 'clock-without-usb',
    severity: 'refuse',
    keys: [],
    remedy: `${asRated} Firmware that can raise the clock only without USB is set to that first, by an order of its own.`,
    check: ({craft, processor, held}) => {
      const {clockMhz} = craft.plan.controller;
      if (isOnlyWithoutUsb(held?.settings) && staysSo(craft)) return undefined;
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

/** Time as the browser has it. */
import {clockOf} from '@core/link/clock';

export const realClock = clockOf(window);

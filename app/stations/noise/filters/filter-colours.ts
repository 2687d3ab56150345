/** The colour of each filter, on the signal's way and in the bar of delays. */
import type {FilterName} from '@core/filters/delay-ledger';

export const filterColours: Readonly<Record<FilterName, string>> = {
  'motor-speed notches': 'var(--petrol)',
  'moving notches': 'var(--ochre)',
  'gyro low-pass': 'var(--plum)',
  'D low-pass': 'var(--ink-3)',
};

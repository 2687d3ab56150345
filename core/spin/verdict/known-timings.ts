/** What is known of the timing of a craft's ESCs, so that it is told apart from the KV of the motors. */
import {foundEsc, type Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import type {KnownTiming} from '../../motion/motor-card';
import {timingAutomatic} from '../../settings/parameters/special-values';

/** One per output, its advance undefined where it follows the current by itself; none where the settings were not read. */
export const knownTimings = (
  {arms, motor: {poles, inductanceH}}: Pick<Craft, 'arms' | 'motor'>,
  found: Found | undefined,
): (KnownTiming | undefined)[] =>
  arms.map((_, output) => {
    const timing = found && foundEsc(found, output)?.settings?.values.timing;
    return timing === undefined
      ? undefined
      : {advance: timing === timingAutomatic ? undefined : timing, inductanceH, poles};
  });

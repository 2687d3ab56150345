/** What a map is made of and how sure it is, and which of its lines are mirrored, in words. */
import type {AliasedLine} from '@core/noise/aliased-lines';
import {decibelBounds} from '@core/spectra/welch';
import type {ShownMap} from '../../state/noise.store';

export function certaintyOf(shown: ShownMap | undefined): string | undefined {
  if (!shown) return undefined;
  if (!shown.segment)
    return 'Order tracking: the gyro is taken once for each step of the motor’s own turn, so its lines stand upright.';
  const {counts, stepX} = shown.map;
  const filled = [...counts].filter((n) => n > 0).sort((a, b) => a - b);
  const [middle, share] = [filled[filled.length >> 1] ?? 1, Math.min(1, shown.hop / shown.segment)];
  const {below, above} = decibelBounds(middle, share);
  const overlap = share < 1 ? `${((1 - share) * 100).toFixed(0)} % overlap` : 'no overlap';
  return (
    `Hann windows of ${shown.segment} samples, ${overlap}, bins of ${stepX.toFixed(1)} Hz. A row is the mean of ${middle} ` +
    `windows (median): right within −${below.toFixed(1)}/+${above.toFixed(1)} dB, 19 of 20 times.`
  );
}

export const aliasWords = ({order, highestHz, lowestImageHz, share}: AliasedLine, rateHz: number): string =>
  `${order}× of the motors runs up to ${highestHz.toFixed(0)} Hz, beyond half of the log’s ${rateHz.toFixed(0)} Hz, for ` +
  `${(share * 100).toPrecision(2)} % of the flight: there it aliases down, as low as ${lowestImageHz.toFixed(0)} Hz (calculated).`;

/** What planned filters would change on one flight, held against the filters that fly now; words for both. */
import {noiseFromHz, rmsOfAxes, type Forecast} from './forecast';

export interface PredictedGain {
  /** What it is compared with: the chain that was found on the craft, or no filters at all. */
  readonly against: 'now' | 'no filters';
  /** How much less noise is left, dB; negative where it is more. */
  readonly db: number;
}

/** Less than this share of the noise is no difference that anybody would feel or measure in one flight. */
const nothing = 0.01;

type Noise = Pick<Forecast, 'asFlown' | 'left' | 'stepHz'>;

/** @param found what the craft's own filters leave of the same flight; undefined where they are not known. */
export function predictedGain(planned: Noise, found: Noise | undefined): PredictedGain {
  const rms = ({stepHz}: Noise, axes: Forecast['left']) => rmsOfAxes(axes, stepHz, noiseFromHz);
  const before = found ? rms(found, found.left) : rms(planned, planned.asFlown);
  const after = Math.max(1e-9, rms(planned, planned.left));
  return {against: found ? 'now' : 'no filters', db: 20 * Math.log10(Math.max(1e-9, before) / after)};
}

/** "2 % less noise than with the filters that fly now"; the share is of the rms. */
export function gainText({against, db}: PredictedGain): string {
  const than = against === 'now' ? 'with the filters that fly now' : 'without any filters';
  const share = 1 - 10 ** (-db / 20);
  if (Math.abs(share) < nothing) return `as much noise as ${than}`;
  if (share < 0) return `${percentText(-share)} more noise than ${than}`;
  return `${percentText(share)} less noise (${db.toFixed(1)} dB) than ${than}`;
}

const percentText = (share: number): string => `${(share * 100).toFixed(0)} %`;

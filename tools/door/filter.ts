/** What one filter does to frequencies: `bidex filter`. */
import {cascade, phaseDelayS} from '@core/filters/response';
import {lowPassKinds, lowPassSections, notch, type LowPassKind, type Section} from '@core/filters/section';
import {fail, outcome, type Answer, type Run} from './command';

export const run: Run = ({options}) => outcome(describeFilter(options));

const types = ['notch', ...lowPassKinds] as const;
/** A notch takes a tone away altogether; JSON has no −∞, dB. */
const lowestDb = -300;

export function describeFilter(options: ReadonlyMap<string, string>): Answer {
  const type = options.get('--type');
  if (!types.some((t) => t === type)) return fail('type', `--type is ${types.join(', ')}.`);
  const number = (name: string, standard: number) => (options.has(name) ? Number(options.get(name)) : standard);
  const [f0, fs, q] = [number('--f0', NaN), number('--fs', NaN), number('--q', Math.SQRT1_2)];
  if (!(fs > 0)) return fail('fs', '--fs is a sample rate above 0 Hz.');
  if (!(f0 > 0 && f0 < fs / 2)) return fail('f0', `--f0 is a frequency above 0 and below ${fs / 2} Hz.`);
  if (!(q > 0)) return fail('q', '--q is a number above 0.');
  const wanted = (options.get('--at') ?? '').split(',').filter(Boolean).map(Number);
  const outside = wanted.find((hz) => !(hz >= 0 && hz <= fs / 2));
  if (outside !== undefined) return fail('at', `--at takes frequencies from 0 to ${fs / 2} Hz.`);
  const sections = type === 'notch' ? [notch(f0, q, fs)] : lowPassSections(type as LowPassKind, f0, fs, q);
  const at = wanted.map((hz) => {
    const {magnitude, phase, groupDelayS} = cascade(sections, hz, fs);
    return {
      hz,
      db: Math.max(lowestDb, 20 * Math.log10(magnitude)),
      phaseDeg: (phase * 180) / Math.PI,
      phaseDelayMs: phaseDelayS(sections, hz, fs) * 1000,
      groupDelayMs: groupDelayS * 1000,
    };
  });
  return {ok: true, value: {at, sections: sections.map(coefficients)}};
}

/** Of first order where the section is. */
const coefficients = ({b0, b1, b2, a1, a2}: Section) =>
  b2 === 0 && a2 === 0 && b1 === 0 ? {b: [b0], a: [1, a1]} : {b: [b0, b1, b2], a: [1, a1, a2]};

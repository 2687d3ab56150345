/** What sections do to a frequency: H(e^jω), its phase, and its delays. */
import type {Section} from './section';

interface Response {
  readonly magnitude: number;
  /** Radians; of a cascade the sum of its sections, so it goes on beyond ±π. */
  readonly phase: number;
  /** −dφ/dω, s. */
  readonly groupDelayS: number;
}

const none: Response = {magnitude: 1, phase: 0, groupDelayS: 0};

/** H(e^jω) of one section at `hz`. */
export function response({b0, b1, b2, a1, a2}: Section, hz: number, sampleRateHz: number): Response {
  const w = (2 * Math.PI * hz) / sampleRateHz;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  const [nr, ni] = [b0 + b1 * c1 + b2 * c2, -(b1 * s1 + b2 * s2)];
  const [dr, di] = [1 + a1 * c1 + a2 * c2, -(a1 * s1 + a2 * s2)];
  const d2 = dr * dr + di * di;
  const [re, im] = [(nr * dr + ni * di) / d2, (ni * dr - nr * di) / d2];
  // −dφ/dω of a polynomial Σ cₖe^(−jkω) is Re(Σ k·cₖe^(−jkω) / Σ cₖe^(−jkω)).
  const n2 = nr * nr + ni * ni;
  const above = n2 > 0 ? ((b1 * c1 + 2 * b2 * c2) * nr - (b1 * s1 + 2 * b2 * s2) * ni) / n2 : 0;
  const below = ((a1 * c1 + 2 * a2 * c2) * dr - (a1 * s1 + 2 * a2 * s2) * di) / d2;
  return {magnitude: Math.hypot(re, im), phase: Math.atan2(im, re), groupDelayS: (above - below) / sampleRateHz};
}

/** Of sections one behind the other. */
export const cascade = (sections: readonly Section[], hz: number, sampleRateHz: number): Response =>
  sections.reduce((sum, section) => {
    const r = response(section, hz, sampleRateHz);
    return {
      magnitude: sum.magnitude * r.magnitude,
      phase: sum.phase + r.phase,
      groupDelayS: sum.groupDelayS + r.groupDelayS,
    };
  }, none);

/** |H|² at a frequency given by its cosine, cos ω and cos 2ω: no trigonometry in the inner loop of a forecast. */
export function power({b0, b1, b2, a1, a2}: Section, c1: number, c2: number): number {
  const above = b0 * b0 + b1 * b1 + b2 * b2 + 2 * (b0 * b1 + b1 * b2) * c1 + 2 * b0 * b2 * c2;
  const below = 1 + a1 * a1 + a2 * a2 + 2 * (a1 + a1 * a2) * c1 + 2 * a2 * c2;
  return above / below;
}

/** Phase delay, s: −φ/2πf; at 0 Hz its limit, the group delay. */
export const phaseDelayS = (sections: readonly Section[], hz: number, sampleRateHz: number): number => {
  const {phase, groupDelayS} = cascade(sections, hz, sampleRateHz);
  return hz > 0 ? -phase / (2 * Math.PI * hz) : groupDelayS;
};

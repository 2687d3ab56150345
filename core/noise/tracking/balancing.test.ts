/**
 * The worked example of balancing in one plane that S. S. Rao, Mechanical Vibrations, gives for a grinding wheel (from
 * memory): at 1200 rpm it shakes by 0.01 in at 40°, with 4 oz tried at −65° by 0.02 in at 150°. The wheel lacks 1.585 oz,
 * 131.9° from where the trial weight sat. What order tracking reads of both runs has to give that.
 */
import {expect, it} from 'vitest';
import {hann} from '../../spectra/periodogram';
import {BlockFit, Scratch, type Phasor} from './block-fit';

const sampleRateHz = 2000;
const length = 1024;
const hz = [Float32Array.from({length}, () => 1200 / 60)];

/** The line at once of a run, beside a second harmonic and what the pilot does. */
function measured(amplitude: number, degrees: number): Phasor {
  const signal = Float64Array.from({length}, (_, i) => {
    const turn = (2 * Math.PI * 20 * i) / sampleRateHz;
    const own = amplitude * Math.cos(turn + (degrees * Math.PI) / 180);
    return own + 0.003 * Math.sin(2 * turn) + 0.002 * Math.sin(2 * Math.PI * 1.1 * (i / sampleRateHz));
  });
  const lines = [1, 2].map((order) => ({motor: 0, order}));
  return new BlockFit({lines, hz, at: 0, window: hann(length), sampleRateHz, scratch: new Scratch()}).solve(signal)!
    .phasors[0]!;
}
const size = ({re, im}: Phasor) => Math.hypot(re, im);
const angle = ({re, im}: Phasor) => (Math.atan2(im, re) * 180) / Math.PI;

it('amplitude and phase at once give the missing weight of the worked example', () => {
  const [first, tried] = [measured(0.01, 40), measured(0.02, 150)];
  expect([size(first), angle(first)]).toEqual([expect.closeTo(0.01, 4), expect.closeTo(40, 0)]);
  const effect = {re: tried.re - first.re, im: tried.im - first.im};
  expect(size(effect)).toBeCloseTo(0.02523, 4);
  expect(angle(effect)).toBeCloseTo(171.9, 0);
  expect((4 * size(first)) / size(effect)).toBeCloseTo(1.585, 1);
  expect(angle(effect) - angle(first)).toBeCloseTo(131.9, 0);
});

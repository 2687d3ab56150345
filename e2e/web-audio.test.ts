/** Our biquads against BiquadFilterNode.getFrequencyResponse (W3C Web Audio) as Chromium has it. */
import {expect, test} from './test';
import {response} from '@core/filters/response';
import {lowPass, notch} from '@core/filters/section';

const rate = 8000;
const frequencies = [20, 60, 99, 180, 212, 400, 900, 2500, 3900];

const filters = [
  {kind: 'notch', hz: 100, q: 5},
  {kind: 'notch', hz: 212, q: 3},
  {kind: 'notch', hz: 1500, q: 8},
  {kind: 'lowpass', hz: 150, q: Math.SQRT1_2},
  {kind: 'lowpass', hz: 500, q: Math.SQRT1_2},
] as const;

// The browser is asked, not the application: an empty page is enough, and one.
test('notches and low-passes have the response that the browser computes', async ({page}) => {
  for (const {kind, hz, q} of filters) {
    const theirs = await page.evaluate(
      ({kind, hz, q, rate, frequencies}) => {
        const filter = new OfflineAudioContext(1, 1, rate).createBiquadFilter();
        filter.type = kind;
        filter.frequency.value = hz;
        // Web Audio takes the Q of a low-pass in dB.
        filter.Q.value = kind === 'lowpass' ? 20 * Math.log10(q) : q;
        const magnitude = new Float32Array(frequencies.length);
        const phase = new Float32Array(frequencies.length);
        filter.getFrequencyResponse(Float32Array.from(frequencies), magnitude, phase);
        return {magnitude: [...magnitude], phase: [...phase]};
      },
      {kind, hz, q, rate, frequencies},
    );
    const ours = frequencies.map((f) =>
      response(kind === 'notch' ? notch(hz, q, rate) : lowPass(hz, q, rate), f, rate),
    );
    frequencies.forEach((f, i) => {
      const which = `${kind} at ${hz} Hz, response at ${f} Hz`;
      expect(ours[i]!.magnitude, which).toBeCloseTo(theirs.magnitude[i]!, 4);
      if (ours[i]!.magnitude > 1e-3)
        expect(Math.abs(Math.sin((ours[i]!.phase - theirs.phase[i]!) / 2)), which).toBeLessThan(1e-3);
    });
  }
});

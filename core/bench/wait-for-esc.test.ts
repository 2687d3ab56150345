import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {waitForEsc, waitForEscMs} from './wait-for-esc';

/** Waits on Alder's adapter while `meanwhile` happens at its moments, ms. */
async function waited(
  h: Harness,
  meanwhile: readonly (readonly [number, (cancel: {aborted: boolean}) => unknown])[] = [],
) {
  const left: number[] = [];
  const cancel = {aborted: false};
  for (const [ms, act] of meanwhile) h.time.after(ms, () => void act(cancel));
  const began = h.time.now();
  const answers = await h.run(
    waitForEsc({client: h.client, wire: 0, name: 'arm 1'}, {clock: h.time, cancel, onSilent: (s) => left.push(s)}),
  );
  return {answers, left, tookMs: h.time.now() - began};
}

const alder = () => {
  const h = new Harness({craft: demoCraft('alder')});
  h.bench.clippedTo = undefined;
  return h;
};

describe('the wait for an ESC on an adapter', () => {
  it('ends when the clip is on and the battery came, with fewer seconds each time', async () => {
    const h = alder();
    h.bench.setBattery(false);
    const {answers, left, tookMs} = await waited(h, [
      [3_000, () => (h.bench.clippedTo = 0)],
      [9_000, () => h.bench.setBattery(true)],
    ]);
    expect(answers).toBe(true);
    expect(tookMs).toBeGreaterThan(9_000);
    expect(tookMs).toBeLessThan(11_000);
    expect(left[0]).toBe(60);
    expect(left.every((s, i) => i === 0 || s <= left[i - 1]!)).toBe(true);
    expect(left.at(-1)).toBeLessThanOrEqual(52);
  });

  it('is over in time where nobody comes, without an error', async () => {
    const {answers, tookMs} = await waited(alder());
    expect(answers).toBe(false);
    expect(tookMs).toBeGreaterThanOrEqual(waitForEscMs);
    expect(tookMs).toBeLessThan(waitForEscMs + 2_000);
  });

  it('ends where a hand ends it', async () => {
    const {answers, tookMs} = await waited(alder(), [[2_000, (cancel) => (cancel.aborted = true)]]);
    expect(answers).toBe(false);
    expect(tookMs).toBeLessThan(4_000);
  });

  it('rejects where something has power and no bootloader', async () => {
    const h = alder();
    h.bench.clippedTo = 0;
    h.bench.escs[0]!.silent = true;
    await expect(waited(h)).rejects.toThrow(/no bootloader/);
  });
});

/** A configuration over a link that drops long transfers: read and set in pieces, and the same as in one. */
import {expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {configFromWire} from '../controller/wire';
import {readConfig, setConfig} from './controller-access';

it('goes in one piece where the link lets it through', async () => {
  const h = new Harness();
  await h.survey();
  expect(await h.run(readConfig(h.client))).toEqual(configFromWire(h.bench.controller.pending));
  expect(h.client.counters.repeats).toBe(0);
});

it('behind a hub that drops long transfers goes in pieces, from the second time on at once', async () => {
  const h = new Harness();
  await h.survey();
  // The fail-safe is locked while a transmitter is connected.
  h.bench.cockpit.transmitter.on = false;
  h.bench.mishaps.longest = 230;
  const config = await h.run(readConfig(h.client));
  expect(config).toEqual(configFromWire(h.bench.controller.pending));
  const {repeats} = h.client.counters;
  expect(repeats).toBeGreaterThan(0);
  const changed = {
    ...{poles: 12, movingQ: 6, dLowPassHz: 95, failSafe: {action: 'land', afterMs: 600} as const},
    ...{notchQ: 6, notchMinHz: 90, gyroLowPassHz: 300, gyroLowPass: 'lowpass2' as const, idlePercent: 6},
  };
  await h.run(setConfig(h.client, changed));
  expect(await h.run(readConfig(h.client))).toEqual({...config, ...changed});
  expect(h.client.counters.repeats).toBe(repeats);
});

it('a link that lets nothing through says so', async () => {
  const h = new Harness();
  await h.survey();
  h.bench.mishaps.longest = 60;
  await expect(h.run(readConfig(h.client))).rejects.toMatchObject({problem: {code: 'unanswered'}});
});

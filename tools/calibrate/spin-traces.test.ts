import {expect, it} from 'vitest';
import {calibrateCards, cardConstants, motorClasses} from './spin-traces';

// `bidex calibrate --runs 200` draws more: here as many as tell that no class is far off.
it.each(Object.keys(motorClasses))('%s: KV, resistance and inertia within their bounds, whatever the delay', (name) => {
  const counts = calibrateCards(name, 6, 1);
  expect(counts.missed.length).toBeLessThanOrEqual(1);
  for (const constant of cardConstants) {
    expect(counts[constant].told).toBeGreaterThanOrEqual(4);
    expect(counts[constant].error / counts[constant].told).toBeLessThan(
      {kv: 0.01, resistanceOhm: 0.05, inertia: 0.08}[constant],
    );
  }
});

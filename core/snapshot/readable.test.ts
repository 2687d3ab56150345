import {parse, stringify} from 'smol-toml';
import {expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {readableSnapshot} from './readable';
import {snapshotOfFound} from './snapshot';

it('is TOML with names, units and no page bytes, and reads back as it was written', async () => {
  const found = await new Harness().survey();
  const snapshot = snapshotOfFound(found, {
    id: 'x',
    craft: 'Juniper',
    name: 'as found',
    at: '2026-11-26T12:00:00.000Z',
  });
  const text = stringify(readableSnapshot(snapshot));
  const read = parse(text) as {motor: {number: number; settings: Record<string, number>}[]};
  expect(read.motor.map((m) => m.number)).toEqual([1, 2, 3, 4]);
  expect(read.motor[0]!.settings['Timing advance [°]']).toBe(snapshot.escs[0]!.values['timing']);
  expect(text).not.toContain(snapshot.escs[0]!.page);
});

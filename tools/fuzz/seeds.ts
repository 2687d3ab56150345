/** Sound data that several subjects begin with. */
import {defaultSettings, encodeSettings} from '@core/settings/page';
import type {Snapshot} from '@core/snapshot/snapshot';

/** Two ESCs of different layouts. */
export function settingsSnapshot(): Snapshot {
  const esc = (output: number, layout: 6 | 8) => {
    const values = defaultSettings(layout);
    const page = Buffer.from(encodeSettings(layout, values)).toString('hex');
    return {output, serial: `S${output}`, firmware: 'Meridian 3.9', layout, values: {...values}, page};
  };
  return {
    format: 'bidex-snapshot-1',
    id: 's1',
    craft: 'Juniper',
    name: 'before',
    at: '2026-11-26T08:00:00.000Z',
    escs: [esc(0, 6), esc(1, 8)],
  };
}

/** A snapshot as a file: JSON to bring in again, TOML for people who read, CSV for people who calculate. */
import Papa from 'papaparse';
import {stringify} from 'smol-toml';
import {readableSnapshot} from './readable';
import {snapshotRows, type Snapshot} from './snapshot';

export type SnapshotFormat = 'json' | 'toml' | 'csv';

const types = {json: 'application/json', toml: 'application/toml', csv: 'text/csv'} as const;

const writers: Readonly<Record<SnapshotFormat, (snapshot: Snapshot) => string>> = {
  json: (snapshot) => JSON.stringify(snapshot, null, 2),
  toml: (snapshot) => stringify(readableSnapshot(snapshot)),
  csv: (snapshot) => Papa.unparse(snapshotRows(snapshot)),
};

export const snapshotFile = (
  snapshot: Snapshot,
  as: SnapshotFormat,
): {readonly name: string; readonly content: string; readonly type: string} => ({
  name: `${snapshot.craft}, ${snapshot.name}.${as}`,
  content: writers[as](snapshot),
  type: types[as],
});

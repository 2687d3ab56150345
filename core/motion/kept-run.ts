/** A run as it is kept with its craft: the trace as CSV, so that another program reads it too. */
import type {AloneState} from '../replies/replies';
import type {SpinTrace} from './trace';
import {readSpinTrace} from './read-trace';

export interface KeptRun {
  readonly id: string;
  readonly craftId: string;
  /** Epoch ms. */
  readonly at: number;
  /** What ran, in words. */
  readonly script: string;
  /** Outputs that were turned. */
  readonly outputs: readonly number[];
  readonly source: 'burst' | 'reports';
  /** Rows a second. */
  readonly rateHz: number;
  /** Poles by which replies became speeds. */
  readonly poles: number;
  /** What replies said while each motor was driven alone before; undefined where none was. */
  readonly alone?: readonly AloneState[] | undefined;
  readonly csv: string;
}

/** The trace of a kept run; undefined where its text does not read. */
export function traceOfRun({csv, poles}: Pick<KeptRun, 'csv' | 'poles'>): SpinTrace | undefined {
  const read = readSpinTrace(csv, {});
  return read.ok ? {...read.value, poles} : undefined;
}

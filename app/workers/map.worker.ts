/** Sums half of a map beside the noise worker, which talks to it over a port of their own. */
import * as Comlink from 'comlink';
import {sumRows, type RowJob, type RowSums} from '@core/spectra/noise-map';

const mapWorker = {
  sums: (signal: Float32Array, job: RowJob): RowSums => sumRows([signal], job),
};
export type MapWorker = typeof mapWorker;

addEventListener('message', ({data}: MessageEvent<{readonly port: MessagePort}>) => {
  Comlink.expose(mapWorker, data.port);
});

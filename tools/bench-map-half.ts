/** A worker that sums its share of a map, for the bench. */
import {parentPort} from 'node:worker_threads';
import {sumRows, type RowJob} from '@core/spectra/noise-map';

parentPort!.on('message', ({buffers, job}: {readonly buffers: readonly SharedArrayBuffer[]; readonly job: RowJob}) => {
  parentPort!.postMessage(
    sumRows(
      buffers.map((b) => new Float32Array(b)),
      job,
    ),
  );
});

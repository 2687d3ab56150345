/** The workers of the Noise station, one of each for the whole application. */
import {Injectable} from '@angular/core';
import {WorkerClient} from '../../jobs/worker-client';
import type {FlightWorker} from '../../workers/flight.worker';
import type {NoiseWorker} from '../../workers/noise.worker';
import type {SearchWorker} from '../../workers/search.worker';

@Injectable({providedIn: 'root'})
export class NoiseJobs {
  readonly noise = new WorkerClient<NoiseWorker>(withHelper);
  readonly search = new WorkerClient<SearchWorker>(
    () => new Worker(new URL('../../workers/search.worker', import.meta.url), {type: 'module'}),
  );
  readonly flight = new WorkerClient<FlightWorker>(
    () => new Worker(new URL('../../workers/flight.worker', import.meta.url), {type: 'module'}),
  );
}

/** The noise worker and one that sums half of its maps, with a port between them; they end together. */
function withHelper(): Worker {
  const worker = new Worker(new URL('../../workers/noise.worker', import.meta.url), {type: 'module'});
  const helper = new Worker(new URL('../../workers/map.worker', import.meta.url), {type: 'module'});
  const {port1, port2} = new MessageChannel();
  helper.postMessage({port: port1}, [port1]);
  worker.postMessage({helper: port2}, [port2]);
  const end = worker.terminate.bind(worker);
  worker.terminate = () => {
    helper.terminate();
    end();
  };
  return worker;
}

/** The workers of the Noise station, one of each for the whole application. */
import {Injectable} from '@angular/core';
import {WorkerClient} from '../jobs/worker-client';
import type {FlightWorker} from '../workers/flight.worker';
import type {NoiseWorker} from '../workers/noise.worker';
import type {SearchWorker} from '../workers/search.worker';

@Injectable({providedIn: 'root'})
export class NoiseJobs {
  readonly noise = new WorkerClient<NoiseWorker>(
    () => new Worker(new URL('../workers/noise.worker', import.meta.url), {type: 'module'}),
  );
  readonly search = new WorkerClient<SearchWorker>(
    () => new Worker(new URL('../workers/search.worker', import.meta.url), {type: 'module'}),
  );
  readonly flight = new WorkerClient<FlightWorker>(
    () => new Worker(new URL('../workers/flight.worker', import.meta.url), {type: 'module'}),
  );
}

/** Searches filter chains; a worker of its own, so that ending it costs no flight that the other one holds. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import type {FilterChain} from '@core/filters/chain';
import type {LowPassKind} from '@core/filters/section';
import {success, type Result} from '@core/problem';
import type {FlightModel} from '@core/tuning/flight-model';
import {searchChains, type Trade} from '@core/tuning/search';

export interface SearchJob {
  readonly flights: readonly FlightModel[];
  readonly from: FilterChain;
  readonly filterRateHz: number;
  readonly crossoverHz: number;
  readonly motors: number;
  /** Load of the gyro task: base and what each section of an axis adds, shares. */
  readonly load: {readonly base: number; readonly section: number};
  readonly mostLoad: number;
  readonly kinds: readonly LowPassKind[];
  readonly follows: boolean;
}

export const searchWorker = {
  search({load, ...job}: SearchJob, onProgress: (share: number) => void): Result<readonly Trade[]> {
    const loadOf = (sections: number) => load.base + sections * load.section;
    const trades = searchChains({
      ...job,
      loadOf,
      onProgress: (share) => {
        onProgress(share);
        return true;
      },
    });
    return success(trades ?? []);
  },
};
export type SearchWorker = typeof searchWorker;

Comlink.expose(searchWorker);

/** Searches filter chains; a worker of its own, so that ending it costs no flight that the other one holds. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {success, type Result} from '@core/problem';
import {searchFor, type ChainQuestion} from '@core/tuning/chain-question';
import type {Trade} from '@core/tuning/search';

const searchWorker = {
  search(question: ChainQuestion, onProgress: (share: number) => void): Result<readonly Trade[]> {
    const trades = searchFor(question, (share) => {
      onProgress(share);
      return true;
    });
    return success(trades ?? []);
  },
};
export type SearchWorker = typeof searchWorker;

Comlink.expose(searchWorker);

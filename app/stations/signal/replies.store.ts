/** The measurement of the replies, held: what it found is kept as a proof, what went wrong is told. */
import {inject} from '@angular/core';
import {patchState, signalStore, withMethods, withState} from '@ngrx/signals';
import {ProblemError, type Problem} from '@core/problem';
import {replyProof} from '@core/spin/replies/reply-proof';
import {ReplyRecords} from '../../state/spin/reply-records';
import {WorkStore} from '../../state/work.store';

const noReplies: Problem = {
  code: 'no-replies',
  place: 'reply measurement',
  meaning: 'No replies were requested: they are off in the flight controller.',
  remedy: 'Plan replies and carry out the work order.',
};

/** Of the component that provides it. */
export const RepliesStore = signalStore(
  withState<{problem: Problem | undefined}>({problem: undefined}),
  withMethods((store, work = inject(WorkStore), records = inject(ReplyRecords)) => ({
    async hold(): Promise<void> {
      patchState(store, {problem: undefined});
      work.hold();
      try {
        const measures = await work.measure({aborted: false});
        const isKept = await records.keep((on, about) => replyProof(measures, on, about));
        if (!isKept) patchState(store, {problem: noReplies});
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        patchState(store, {problem: error.problem});
      }
    },
    clearProblem: () => patchState(store, {problem: undefined}),
  })),
);

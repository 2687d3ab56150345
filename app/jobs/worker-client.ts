/** The one way to a worker: progress, cancelling, and failures as values. Errors lose their class on the way out of a worker. */
import * as Comlink from 'comlink';
import {failure, type Problem, type Result} from '@core/problem';

/** What a Worker is to its client. */
export type WorkerLike = Comlink.Endpoint & {terminate(): void; onerror?: ((event: ErrorEvent) => unknown) | null};

interface JobOptions {
  /** What is worked on, for the problem that a failed job ends in. */
  readonly place: string;
  /** Share done, 0…1; never called after the job has ended. */
  readonly onProgress?: (share: number) => void;
}

/** Starts its worker at the first job and keeps it, with what it holds, until cancelled. */
export class WorkerClient<T> {
  private open: {readonly worker: WorkerLike; readonly remote: Comlink.Remote<T>} | undefined;
  private readonly underWay = new Set<(problem: Omit<Problem, 'place'>) => void>();

  constructor(private readonly make: () => WorkerLike) {}

  /** Runs one job. Resolves to what it answers, to "cancelled", or to "worker-failed" with what the worker said. */
  run<R>(
    job: (remote: Comlink.Remote<T>, onProgress: (share: number) => void) => Promise<Result<R>>,
    {place, onProgress}: JobOptions,
  ): Promise<Result<R>> {
    const {remote} = this.start();
    return new Promise((resolve) => {
      const settle = (result: Result<R>) => {
        this.underWay.delete(fail);
        resolve(result);
      };
      const fail = (problem: Omit<Problem, 'place'>) => settle(failure({...problem, place}));
      this.underWay.add(fail);
      const progress = Comlink.proxy((share: number) => {
        if (this.underWay.has(fail)) onProgress?.(share);
      });
      job(remote, progress).then(settle, (error: unknown) => fail(broken(error)));
    });
  }

  /** Ends every job at once, and the worker with what it holds. */
  cancel(): void {
    this.end(cancelled);
  }

  private start() {
    if (this.open) return this.open;
    const worker = this.make();
    worker.onerror = (event) => this.end(broken(event.message));
    return (this.open = {worker, remote: Comlink.wrap<T>(worker)});
  }

  private end(problem: Omit<Problem, 'place'>): void {
    this.open?.worker.terminate();
    this.open = undefined;
    for (const fail of [...this.underWay]) fail(problem);
  }
}

const cancelled = {
  code: 'cancelled',
  meaning: 'It was cancelled by you.',
  remedy: 'Nothing was changed. Begin again when you like.',
};

const broken = (error: unknown) => ({
  code: 'worker-failed',
  meaning: `Working on it failed: ${error instanceof Error ? error.message : String(error)}`,
  remedy: 'Nothing was changed. Try again; a smaller file may do.',
});

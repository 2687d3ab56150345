import * as Comlink from 'comlink';
import {failure, success, type Problem, type Result} from '@core/problem';
import {WorkerClient, type WorkerLike} from './worker-client';

const bad: Problem = {code: 'bad-file', place: 'line 3', meaning: 'It is no number.', remedy: 'Mend it.'};
const jobs = {
  double: (n: number): Result<number> => (n < 0 ? failure(bad) : success(2 * n)),
  breaks: (): Result<number> => {
    throw new TypeError('out of memory');
  },
  async slow(onProgress: (share: number) => void): Promise<Result<number>> {
    for (let i = 1; i <= 1_000; i++) {
      await new Promise((resolve) => setTimeout(resolve, 5));
      onProgress(i / 1_000);
    }
    return success(1);
  },
};

/** Jobs behind a message channel, as behind a worker. */
function client() {
  const made: {terminated: boolean; worker: WorkerLike}[] = [];
  const own = new WorkerClient<typeof jobs>(() => {
    const {port1, port2} = new MessageChannel();
    Comlink.expose(jobs, port2);
    const entry = {terminated: false, worker: port1 as unknown as WorkerLike};
    entry.worker.terminate = () => {
      entry.terminated = true;
      port2.close();
      port1.close();
    };
    made.push(entry);
    return entry.worker;
  });
  return {own, made};
}
const place = 'flight.csv';

describe('a worker client', () => {
  it('answers with values, and with problems as the worker wrote them', async () => {
    const {own, made} = client();
    expect(await own.run((w) => w.double(4), {place})).toEqual({ok: true, value: 8});
    expect(await own.run((w) => w.double(-1), {place})).toEqual({ok: false, problem: bad});
    expect(made).toHaveLength(1);
    own.cancel();
  });

  it('tells what broke in the worker, with the place', async () => {
    const {own} = client();
    const result = await own.run((w) => w.breaks(), {place});
    expect(result).toMatchObject({ok: false, problem: {code: 'worker-failed', place}});
    expect(!result.ok && result.problem.meaning).toContain('out of memory');
    own.cancel();
  });

  it('cancelling ends every job at once and the worker with it; the next job has a new one', async () => {
    const {own, made} = client();
    const shares: number[] = [];
    const running = own.run((w, onProgress) => w.slow(onProgress), {place, onProgress: (s) => shares.push(s)});
    await vi.waitFor(() => expect(shares.length).toBeGreaterThan(2));
    own.cancel();
    const heard = shares.length;
    expect(await running).toMatchObject({ok: false, problem: {code: 'cancelled', place}});
    await new Promise((resolve) => setTimeout(resolve, 40));
    expect([shares.length, made[0]!.terminated]).toEqual([heard, true]);
    expect(await own.run((w) => w.double(1), {place})).toEqual({ok: true, value: 2});
    expect(made).toHaveLength(2);
    own.cancel();
  });

  it('a worker that cannot start fails its jobs', async () => {
    const {own, made} = client();
    const running = own.run((w, onProgress) => w.slow(onProgress), {place});
    made[0]!.worker.onerror!(new ErrorEvent('error', {message: 'script not found'}));
    expect(await running).toMatchObject({ok: false, problem: {code: 'worker-failed'}});
  });
});

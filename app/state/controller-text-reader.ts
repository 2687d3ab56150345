/** Reads a controller text from a file: small ones at once, large ones in a worker. */
import {arrivedText} from '@core/controller/text/portable';
import {readText, type ControllerText} from '@core/controller/text/read-text';
import {ProblemError} from '@core/problem';
import {WorkerClient} from '../jobs/worker-client';
import type {TextWorker} from '../workers/text.worker';

/** Texts up to this size read in a few milliseconds, bytes. */
const smallText = 100_000;

export async function readControllerText(file: File): Promise<ControllerText> {
  const text = await file.text();
  if (file.size <= smallText) return readText(text);
  const worker = new WorkerClient<TextWorker>(
    () => new Worker(new URL('../workers/text.worker', import.meta.url), {type: 'module'}),
  );
  const read = await worker.run((remote) => remote.read(text), {place: file.name});
  worker.cancel();
  if (!read.ok) throw new ProblemError(read.problem);
  return arrivedText(read.value);
}

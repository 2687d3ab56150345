/** Reads an image file: small ones at once, large ones in a worker that can be cancelled. */
import type {Result} from '@core/problem';
import {WorkerClient} from '../jobs/worker-client';
import {inspectImage, type InspectedFile} from '@core/firmware/inspect-image';
import type {ImageWorker} from '../workers/image.worker';

/** Files up to this size read in a few milliseconds, bytes. */
const smallFile = 256 * 1024;

interface ReadingControl {
  readonly onProgress: (share: number) => void;
  /** Called with what ends the reading early. */
  readonly onStart: (cancel: () => void) => void;
}

export async function inspectFile(
  name: string,
  bytes: Uint8Array,
  base: number | undefined,
  control?: ReadingControl,
): Promise<Result<InspectedFile>> {
  if (bytes.length <= smallFile) return inspectImage(name, bytes, {base});
  const worker = new WorkerClient<ImageWorker>(
    () => new Worker(new URL('../workers/image.worker', import.meta.url), {type: 'module'}),
  );
  control?.onStart(() => worker.cancel());
  const result = await worker.run((remote, onProgress) => remote.inspect(name, bytes, base, onProgress), {
    place: name,
    ...(control && {onProgress: control.onProgress}),
  });
  worker.cancel();
  return result;
}

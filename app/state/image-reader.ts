/** Reads an image file: small ones at once, large ones in a worker that can be cancelled. */
import * as Comlink from 'comlink';
import {failure, type Result} from '@core/problem';
import {inspectImage, type InspectedFile} from '../workers/image-inspection';
import type {ImageWorker} from '../workers/image.worker';

/** Files up to this size read in a few milliseconds, bytes. */
const smallFile = 256 * 1024;

export interface ReadingControl {
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
  const worker = new Worker(new URL('../workers/image.worker', import.meta.url), {type: 'module'});
  try {
    const remote = Comlink.wrap<ImageWorker>(worker);
    const cancelled = new Promise<Result<InspectedFile>>((resolve) =>
      control?.onStart(() =>
        resolve(
          failure({
            code: 'cancelled',
            place: name,
            meaning: 'Reading was cancelled by you.',
            remedy: 'Drop the file again to read it.',
          }),
        ),
      ),
    );
    const progress = Comlink.proxy((share: number) => control?.onProgress(share));
    return await Promise.race([remote.inspect(name, bytes, base, progress), cancelled]);
  } finally {
    worker.terminate();
  }
}

/** Reads large image files away from the screen's thread. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import type {Result} from '@core/problem';
import {inspectImage, type InspectedFile} from '@core/firmware/inspect-image';

const imageWorker = {
  inspect(
    name: string,
    bytes: Uint8Array,
    base: number | undefined,
    onProgress: (share: number) => void,
  ): Result<InspectedFile> {
    return inspectImage(name, bytes, {base, onProgress});
  },
};
export type ImageWorker = typeof imageWorker;

Comlink.expose(imageWorker);

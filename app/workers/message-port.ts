import type {BytePort} from '@core/link/port';

/** A byte port over a message port: arrays of bytes, and null when the cable goes out. */
export function bytePortOf(port: MessagePort): BytePort {
  const readable = new ReadableStream<Uint8Array>({
    start: (controller) => {
      port.onmessage = ({data}: MessageEvent<Uint8Array | null>) => {
        if (data) controller.enqueue(data);
        else {
          controller.close();
          port.close();
        }
      };
    },
    cancel: () => port.close(),
  });
  const writable = new WritableStream<Uint8Array>({write: (bytes) => port.postMessage(bytes)});
  return {readable, writable};
}

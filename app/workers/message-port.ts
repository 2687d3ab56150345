import type {SteppedBench, SteppedClock, StepEnd} from '../bench/stepped-clock';
import type {BytePort} from '@core/link/port';

/** What a bench that is stepped says over the port: bytes, each when time had moved on by so much, and the end of the step. */
export interface BenchStepped {
  readonly said: readonly {readonly movedMs: number; readonly bytes: Uint8Array}[];
  /** Time that has moved on since the last of them, and how the step ended; only at the end of one. */
  readonly end?: StepEnd & {readonly movedMs: number};
}
/** What the page asks of such a bench: a step, or to run by itself again. */
export type StepAsked = {readonly stepMs: number} | 'left';

/** A byte port over a message port: arrays of bytes, and null when the cable goes out. */
export function bytePortOf(port: MessagePort, clock?: SteppedClock): BytePort {
  const steps = clock && steppedOver(port, clock);
  const readable = new ReadableStream<Uint8Array>({
    start: (controller) => {
      port.onmessage = ({data}: MessageEvent<Uint8Array | BenchStepped | null>) => {
        if (data === null) {
          controller.close();
          steps?.leave();
          port.close();
        } else if (data instanceof Uint8Array) controller.enqueue(data);
        else
          steps?.heard(data, (bytes) => {
            controller.enqueue(bytes);
          });
      };
    },
    cancel: () => {
      steps?.leave();
      port.close();
    },
  });
  const writable = new WritableStream<Uint8Array>({write: (bytes) => port.postMessage(bytes)});
  return {readable, writable};
}

/** Page and bench move together over the port that carries their bytes, so that nothing overtakes anything. */
function steppedOver(port: MessagePort, clock: SteppedClock) {
  let ended: ((end: StepEnd) => void) | undefined;
  const end = (how: StepEnd) => {
    const resolve = ended;
    ended = undefined;
    resolve?.(how);
  };
  const bench: SteppedBench = {
    step: (stepMs) =>
      new Promise((resolve) => {
        ended = resolve;
        port.postMessage({stepMs} satisfies StepAsked);
      }),
  };
  const leave = clock.join(bench);
  return {
    heard({said, end: how}: BenchStepped, deliver: (bytes: Uint8Array) => void): void {
      for (const {movedMs, bytes} of said) {
        clock.moved(movedMs);
        deliver(bytes);
      }
      if (!how) return;
      clock.moved(how.movedMs);
      end(how);
    },
    leave(): void {
      leave();
      port.postMessage('left' satisfies StepAsked);
      end({hurries: false, isIdle: false});
    },
  };
}

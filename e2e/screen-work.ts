/** What the screen's thread does, counted in the page itself: it has no clock, so that a busy machine changes nothing of it. */
import type {Page} from './test';

export interface ScreenWork {
  /** Bytes of files that this thread read itself. */
  readonly readBytes: number;
  /** Size of what workers said to it: bytes of binary data, letters of everything else. */
  readonly toldBytes: number;
  /** Pictures that were begun on a canvas. */
  readonly drawings: number;
  /** Elements and texts of the page that were changed. */
  readonly changes: number;
}

declare global {
  interface Window {
    screenWork?: {-readonly [K in keyof ScreenWork]: number};
  }
}

/** Counts from the next page on. */
export const countScreenWork = (page: Page): Promise<unknown> => page.addInitScript(installCounters);

/** What was done since it was asked last. */
export const screenWork = (page: Page): Promise<ScreenWork> =>
  page.evaluate(() => {
    const done = {...window.screenWork!};
    Object.assign(window.screenWork!, {readBytes: 0, toldBytes: 0, drawings: 0, changes: 0});
    return done;
  });

/** Runs in the page. */
function installCounters(): void {
  const work = (window.screenWork = {readBytes: 0, toldBytes: 0, drawings: 0, changes: 0});

  const sizeOf = (said: unknown): number => {
    if (said instanceof Blob) return said.size;
    if (said instanceof ArrayBuffer || ArrayBuffer.isView(said)) return said.byteLength;
    if (said !== null && typeof said === 'object')
      return Object.entries(said).reduce((sum, [key, value]) => sum + key.length + sizeOf(value), 0);
    return String(said).length;
  };
  const Own = Worker;
  window.Worker = class extends Own {
    constructor(...of: ConstructorParameters<typeof Worker>) {
      super(...of);
      this.addEventListener('message', ({data}) => (work.toldBytes += sizeOf(data)));
    }
  };

  const blob = Blob.prototype;
  for (const name of ['arrayBuffer', 'text', 'stream'] as const) {
    const own = blob[name] as (this: Blob) => unknown;
    Object.defineProperty(blob, name, {
      value(this: Blob) {
        work.readBytes += this.size;
        return own.call(this);
      },
    });
  }

  const canvas = HTMLCanvasElement.prototype as unknown as {getContext: (this: unknown, ...of: unknown[]) => unknown};
  const draw = canvas.getContext;
  Object.defineProperty(canvas, 'getContext', {
    value(this: HTMLCanvasElement, ...of: unknown[]) {
      work.drawings++;
      return draw.apply(this, of);
    },
  });

  const everything = {subtree: true, childList: true, characterData: true, attributes: true};
  new MutationObserver((changes) => (work.changes += changes.length)).observe(document, everything);
}

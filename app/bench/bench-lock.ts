/** Only one tab holds the bench: a Web Lock, and a way to ask the tab that has it to let go. */

const lockName = 'bidex-bench';
/** Longest wait for another tab to let go, ms. */
const handOverMs = 3000;

/** Holds the bench for this tab. Resolves to the function that lets it go, or to nothing when another tab has it. */
export function holdBench(waitMs = 0): Promise<(() => void) | undefined> {
  const options: LockOptions = waitMs ? {signal: AbortSignal.timeout(waitMs)} : {ifAvailable: true};
  return new Promise((resolve) => {
    navigator.locks
      .request(lockName, options, (lock) => {
        if (!lock) return resolve(undefined);
        return new Promise<void>((release) => resolve(release));
      })
      // The wait was too long: the other tab did not let go.
      .catch(() => resolve(undefined));
  });
}

type Word = 'hand over' | 'busy';

/** Answers other tabs that want the bench. `letGo` ends this tab's connection, or refuses while a work order runs. */
export function answerOtherTabs(letGo: () => boolean): void {
  const channel = new BroadcastChannel(lockName);
  channel.onmessage = ({data}: MessageEvent<Word>) => {
    if (data === 'hand over' && !letGo()) channel.postMessage('busy' satisfies Word);
  };
}

/** Asks the tab that holds the bench to let go, and takes it. "busy" when it is in the middle of a work order. */
export async function takeBenchOver(): Promise<(() => void) | 'busy'> {
  const channel = new BroadcastChannel(lockName);
  try {
    const busy = new Promise<'busy'>((resolve) => {
      channel.onmessage = ({data}: MessageEvent<Word>) => data === 'busy' && resolve('busy');
    });
    channel.postMessage('hand over' satisfies Word);
    const taken = holdBench(handOverMs);
    const first = await Promise.race([busy, taken]);
    if (first === 'busy') void taken.then((release) => release?.());
    return first ?? 'busy';
  } finally {
    channel.close();
  }
}

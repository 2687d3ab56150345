/** The bench's side of a clock that it shares with the page: it moves when asked to, and stops where it has something to say. */
import type {VirtualTime} from '@core/link/virtual-time';
import type {BenchStepped, StepAsked} from './message-port';

/** What is stepped. */
interface Bench {
  readonly train: {readonly isActive: boolean};
  /** A hand holds something that turns. */
  readonly isHeld: boolean;
  /** A command is under way. */
  readonly isBusy: boolean;
  attach(send: (bytes: Uint8Array) => void, closed: () => void): void;
  receive(bytes: Uint8Array): void;
}

interface Stepped {
  readonly time: VirtualTime;
  /** A command is under way and the bench is to go as fast as possible. */
  readonly hurries: () => boolean;
  /** The page has let go of the clock, or the cable is out. */
  readonly onLeft: () => void;
}

/** Attaches a bench to the port of a page that steps it by its own clock. */
export function stepBench(port: MessagePort, bench: Bench, {time, hurries, onLeft}: Stepped): void {
  const moved = sinceLast(time);
  /** What was said in the step under way, which tells it at its end. */
  let inStep: {movedMs: number; bytes: Uint8Array}[] | undefined;
  /** Something was asked and nothing said since. */
  let isAsked = false;
  const tell = (what: BenchStepped) => port.postMessage(what);
  bench.attach(
    (bytes) => {
      const piece = {movedMs: moved(), bytes};
      if (inStep) inStep.push(piece);
      else tell({said: [piece]});
    },
    () => {
      onLeft();
      port.postMessage(null);
    },
  );
  const isIdle = () => !(bench.train.isActive || bench.isHeld || bench.isBusy);
  port.onmessage = ({data}: MessageEvent<Uint8Array | StepAsked>) => {
    if (data === 'left') return onLeft();
    if (data instanceof Uint8Array) {
      isAsked = true;
      return bench.receive(data);
    }
    // What an idle bench says on its own waits for the end of the step; else the page has its say after each piece.
    const isFree = !isAsked && isIdle();
    const said = (inStep = []);
    advance(time, data.stepMs, () => isFree || said.length === 0);
    inStep = undefined;
    if (said.length) isAsked = false;
    tell({said, end: {hurries: hurries(), isIdle: isIdle(), movedMs: moved()}});
  };
}

/** Moves on by so much, ms, from event to event while it goes on. */
function advance(time: VirtualTime, ms: number, goesOn: () => boolean): void {
  const until = time.now() + ms;
  for (let next = time.next(); next !== undefined && next <= until && goesOn(); next = time.next())
    time.advanceTo(next);
  if (goesOn()) time.advanceTo(Math.max(until, time.now()));
}

/** Time that has moved on since this was called last, ms. */
function sinceLast(time: VirtualTime): () => number {
  let last = time.now();
  return () => {
    const ms = time.now() - last;
    last = time.now();
    return ms;
  };
}
